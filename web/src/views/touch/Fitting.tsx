/** Fits a curve to somebody's soft, medium and hard strikes, compared with the old curve. */

import { useEffect } from 'react';
import { create } from 'zustand';
import { type Articulation, type Curve, type Fitted, type KitState, type Piece, post } from '../../api/calls';
import { notesOf, pieceIdOf, useKit } from '../../app/kit/kitStore';
import { rules } from '../../app/kit/rules';
import { useWrite } from '../../app/kit/writes';
import { useInputs } from '../../app/playing/inputs';
import { perform, stopPerforming, usePerforming } from '../../app/playing/simulatedKits';
import { layerColour, strengthColour } from '../../ui/colours';
import type { Whose } from './scopes';

const GROUPS = ['soft', 'medium', 'hard'] as const;
type Group = (typeof GROUPS)[number];
const SAY: Record<Group, string> = {
  soft: 'Play softly, as softly as you would on stage.',
  medium: 'Play as you mostly do.',
  hard: 'Play hard, as hard as you ever will.',
};

interface FittingState {
  strikes: Record<Group, number[]>;
  group: Group | null;
  fitted: Fitted | null;
  trouble: string | null;
  /** Whose curve it is for. */
  whose: string;
}

/** A key for whose curve is being fitted. */
export const forWhom = (here: Whose, articulation: Articulation | null, input: { id: string }) =>
  `${here.scope} ${articulation?.id} ${input.id}`;

const EMPTY = { soft: [], medium: [], hard: [] };

export const useFitting = create<FittingState>(() => ({
  strikes: EMPTY,
  group: null,
  fitted: null,
  trouble: null,
  whose: '',
}));

const begin = () => useFitting.setState({ strikes: EMPTY, group: 'soft', fitted: null, trouble: null });
const end = () => useFitting.setState({ strikes: EMPTY, group: null, fitted: null, trouble: null });

interface FittingProps {
  here: Whose;
  piece: Piece | null;
  articulation: Articulation | null;
  input: { id: string; name: string };
  onAccept: (curve: Curve) => void;
}

export function Fitting({ here, piece, articulation, input, onAccept }: FittingProps) {
  const kit = useKit((s) => s.kit) as KitState;
  const player = useKit((s) => s.player);
  const { strikes, group, fitted, trouble } = useFitting();
  const wide = here.scope === 'all' || here.scope === 'input';
  const target =
    here.scope === 'articulation' ? (articulation?.id ?? null) : here.scope === 'piece' ? (piece?.id ?? null) : null;

  // A fit belongs to the curve it was made for.
  useEffect(() => {
    const mine = forWhom(here, articulation, input);
    if (useFitting.getState().whose !== mine) end();
    useFitting.setState({ whose: mine });
  }, [here, articulation, input]);

  useEffect(() => {
    if (!group || !player || !piece) return;
    return player.onStrike((report) => {
      const ours = pieceIdOf(report.aimed) === piece.id && report.source !== 'groove' && report.source !== 'take';
      if (!ours || (wide && report.source !== input.id)) return;
      useFitting.setState((state) => ({
        strikes: { ...state.strikes, [group]: [...state.strikes[group], report.velocityIn].slice(-40) },
      }));
    });
  }, [group, player, piece, wide, input.id]);

  const { busy, send: ask } = useWrite(
    async (articulation: string) => {
      const { strikes } = useFitting.getState();
      const asked = { articulation, target, input: input.id, strikes };
      const fitted = await post('/api/kits/{kit_id}/fit', { kit_id: kit.id }, asked);
      useFitting.setState({ fitted, group: null, trouble: null });
    },
    { refused: (trouble) => useFitting.setState({ trouble }) },
  );

  if (!piece || !articulation) return null;
  const ready = GROUPS.every((name) => strikes[name].length >= rules().fewest_strikes);
  return (
    <section className="grid gap-2.5" aria-label="Fit to my playing">
      <p className="text-small text-soft">
        Play {piece.name}
        {wide ? ` on ${input.name}` : ''}: some soft strikes, some in between, some hard. A curve is fitted that spreads
        them over all velocity layers.
      </p>
      {GROUPS.map((name) => (
        <button
          key={name}
          type="button"
          aria-pressed={group === name}
          onClick={() => useFitting.setState({ group: name, fitted: null, trouble: null })}
          className={`grid gap-1 rounded-xl border px-2.5 py-2 text-left ${group === name ? 'border-plum bg-plum-wash' : 'border-line bg-card'}`}
        >
          <span className="flex items-baseline justify-between">
            <b className="font-semibold">{name}</b>
            <span className="num text-soft" data-strikes={name}>
              {strikes[name].length}
            </span>
          </span>
          {group === name && <span className="text-small">{SAY[name]}</span>}
          <Dots velocities={strikes[name]} />
        </button>
      ))}
      {trouble && (
        <p role="alert" className="text-small text-zest-text">
          {trouble}
        </p>
      )}
      {fitted && <Landing fitted={fitted} articulation={articulation} />}
      <span className="flex flex-wrap gap-1.5">
        {!group && !fitted && (
          <button type="button" className="btn btn-go" onClick={begin}>
            Begin
          </button>
        )}
        {group && group !== 'hard' && (
          <button
            type="button"
            className="btn"
            disabled={strikes[group].length < rules().fewest_strikes}
            onClick={() => useFitting.setState({ group: GROUPS[GROUPS.indexOf(group) + 1] as Group })}
          >
            Next
          </button>
        )}
        {!fitted && ready && (
          <button type="button" className="btn btn-go" disabled={busy} onClick={() => void ask(articulation.id)}>
            Fit the curve
          </button>
        )}
        {fitted && (
          <>
            <button
              type="button"
              className="btn btn-go"
              onClick={() => {
                onAccept(fitted.fit.curve);
                end();
              }}
            >
              Use this curve
            </button>
            <button type="button" className="btn" onClick={end}>
              Keep the old curve
            </button>
          </>
        )}
        {!fitted && <SimulatedKitPlays piece={piece} />}
      </span>
    </section>
  );
}

/** The simulated kit plays the three groups by itself, on the pad whose note plays this piece. */
function SimulatedKitPlays({ piece }: { piece: Piece }) {
  const kit = useKit((s) => s.kit) as KitState;
  const simulatedKit = useInputs((s) => (s.simulatedKit?.id === s.chosen ? s.simulatedKit : null));
  const running = usePerforming((s) => s.kit !== null && s.what === 'fit');
  const notes = piece.articulations.flatMap((a) => notesOf(kit.head, a.id));
  const pad = simulatedKit?.pads.find((p) =>
    [p.note, ...(p.name === simulatedKit.hat_pad ? simulatedKit.hat_notes.map((h) => h.note) : [])].some((n) =>
      notes.includes(n),
    ),
  );
  if (!simulatedKit) return null;
  if (!pad) {
    return (
      <p className="text-small text-soft">
        No pad of {simulatedKit.name} plays {piece.name} yet: teach it under Notes, and it can play this by itself.
      </p>
    );
  }
  const play = async () => {
    begin();
    for (const strength of GROUPS) {
      useFitting.setState({ group: strength });
      await perform(simulatedKit, { what: 'strikes', pad: pad.name, strength }, 'fit');
      if (useFitting.getState().group !== strength) return;
    }
  };
  return (
    <button type="button" className="btn" onClick={() => (running ? stopPerforming() : void play())}>
      {running ? 'Stop' : `Let ${simulatedKit.name} play them`}
    </button>
  );
}

function Dots({ velocities }: { velocities: number[] }) {
  return (
    <svg viewBox="0 0 240 12" height={12} className="w-full" preserveAspectRatio="none" aria-hidden="true">
      <line x1={0} x2={240} y1={11} y2={11} stroke="var(--line)" />
      {velocities.map((v, k) => (
        <rect key={k} x={(v / 127) * 236} y={2} width={3} height={9} rx={1} fill={strengthColour(v / 127)} />
      ))}
    </svg>
  );
}

function Landing({ fitted, articulation }: { fitted: Fitted; articulation: Articulation }) {
  const { fit } = fitted;
  const most = Math.max(1, ...fit.reached);
  const span = (played: readonly number[]) => `${Math.min(...played)}–${Math.max(...played)}`;
  return (
    <div className="grid gap-1 rounded-xl bg-leaf-wash px-3 py-2 text-small" data-testid="fitted">
      <p>
        Soft strikes would play <span className="num">{span(fit.soft)}</span>, medium ones{' '}
        <span className="num">{span(fit.medium)}</span>, hard ones <span className="num">{span(fit.hard)}</span>.
      </p>
      <span className="flex items-end gap-1" role="img" aria-label="Strikes in each layer, softest first">
        {articulation.layers.map((_, k) => (
          <i
            key={k}
            className="block w-5 rounded-sm"
            style={{
              height: 3 + ((fit.reached[k] ?? 0) / most) * 26,
              background: layerColour(k, articulation.layers.length),
            }}
          />
        ))}
      </span>
      <p className="text-tiny text-soft">
        {fit.reached.every((n) => n > 0)
          ? `Every one of the ${fit.reached.length} layers is reached.`
          : 'The layers without a bar are within reach, though none of these strikes fell there.'}{' '}
        {fit.note} The new curve is drawn in green.
      </p>
    </div>
  );
}
