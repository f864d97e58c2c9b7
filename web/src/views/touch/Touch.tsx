/** Touch: velocity curves, from velocity in to velocity out. */

import { type ReactNode, useEffect, useRef, useState } from 'react';
import type { Articulation, Curve, KitState } from '../../api/calls';
import { FindingList, FindingsHere } from '../../app/findings/Findings';
import { pieceIdOf, useKit } from '../../app/kit/kitStore';
import { useLookedAt, usePlace } from '../../app/kit/place';
import { type Scope, useScope } from '../../app/kit/scope';
import { inputName, useInputs } from '../../app/playing/inputs';
import { useMidi } from '../../app/playing/midi';
import { useSimulatedKits } from '../../app/playing/StrikeBar';
import { type Shown, useStrikes } from '../../app/playing/strikes';
import { Shelf } from '../../app/shelf/Shelf';
import { newGesture } from '../../ui/gestures';
import { Pick } from '../../ui/Pick';
import { CurveEditor, type Point } from './CurveEditor';
import { TablePath } from './CurveSheet';
import { Fitting, forWhom, useFitting } from './Fitting';
import { Harder } from './Harder';
import { Misbehaving } from './Misbehaving';
import { NodeFields } from './NodeFields';
import { Reach, useReach } from './Reach';
import { SavedCurves } from './SavedCurves';
import { ShapeIcon } from './ShapeIcon';
import { useCopied, type Whose, whose } from './scopes';

export default function Touch() {
  const kit = useKit((s) => s.kit) as KitState;
  const pieces = useKit((s) => s.pieces);
  const edit = useKit((s) => s.edit);
  const { piece, articulation } = useLookedAt();
  const lookAt = usePlace((s) => s.lookAt);
  const { scope, side, choose, show } = useScope();
  const [node, setNode] = useState<number | null>(null);
  const [snapping, setSnapping] = useState(true);
  const { data } = useSimulatedKits();
  const input = useChosenInput();
  const here = whose(scope, { piece, articulation }, kit, input);
  const reached = useReach(articulation);
  const fitted = useFitting((s) => (s.whose === forWhom(here, articulation, input) ? s.fitted : null));
  const pointOf = (last: Shown | null) => pointOn(here, kit, last, piece?.id ?? null, articulation);
  const set = (next: Curve | null, gesture = newGesture('curve')) => edit(here.edit(next), gesture);
  const chosen = node === null ? undefined : here.curve.nodes[node];
  // Selecting a piece on the left shows its curve.
  const times = usePlace((s) => s.times);
  const seen = useRef(times);
  useEffect(() => {
    if (seen.current === times) return;
    seen.current = times;
    setNode(null);
    if (useScope.getState().scope !== 'articulation') choose('piece');
  }, [times, choose]);
  const chip = (id: Scope, name: ReactNode, hint: string) => (
    <button type="button" className="chip" title={hint} aria-pressed={here.scope === id} onClick={() => choose(id)}>
      {name}
    </button>
  );
  return (
    <div className="panes grid min-h-0 grid-cols-[208px_minmax(0,1fr)_276px] max-[1180px]:grid-cols-[170px_minmax(0,1fr)_236px]">
      <Shelf
        aside={(id) => {
          const shown = pieces.get(id);
          return (
            <svg
              width={42}
              height={26}
              className="rounded-md bg-sunk"
              role="img"
              aria-label={shown?.curve.own ? 'has a curve of its own' : 'straight'}
            >
              <TablePath
                table={shown?.curve.table ?? []}
                box={{ x: 3, y: 3, width: 36, height: 20 }}
                colour={shown?.curve.own ? 'var(--ink)' : 'var(--edge)'}
                width={1.4}
              />
            </svg>
          );
        }}
      />
      <main className="flex min-h-0 flex-col gap-2.5 overflow-auto px-[18px] py-3">
        <div className="flex flex-wrap items-center gap-1.5" role="group" aria-label="Whose curve">
          {chip('all', 'All inputs', 'The curve of every input that has none of its own')}
          {chip('input', `From ${input.name}`, `The curve of ${input.name}, in place of that of all inputs`)}
          {piece &&
            chip('piece', piece.name, `The curve of all articulations of ${piece.name}, after the input’s curve`)}
          {piece &&
            articulation &&
            chip(
              'articulation',
              `Only ${articulation.name}`,
              'The curve of this articulation, in place of its piece’s',
            )}
          {piece && piece.articulations.length > 1 && here.scope === 'articulation' && (
            <Pick
              label="Articulation"
              value={articulation?.id ?? ''}
              options={piece.articulations.map((a) => ({ value: a.id, name: a.name }))}
              onChange={(articulation) => lookAt({ articulation })}
            />
          )}
          <span className="grow" />
          <SavedCurves curve={here.curve} onChoose={(curve) => void set(curve)} />
          <button type="button" className="btn btn-go" onClick={() => show('Fit')}>
            Fit to my playing
          </button>
        </div>
        <div className="grid min-h-0 grow grid-cols-[minmax(0,1fr)_226px] gap-3">
          <section className="card flex min-h-[400px] flex-col" aria-label="Curve">
            <span className="flex items-baseline justify-between gap-3">
              <h1 className="truncate">{here.title}</h1>
              <span className="grow" />
              {here.own && here.scope !== 'all' && (
                <button type="button" className="link text-small whitespace-nowrap" onClick={() => void set(null)}>
                  Remove curve
                </button>
              )}
              <label className="flex items-center gap-1.5 text-tiny whitespace-nowrap text-soft">
                <input type="checkbox" checked={snapping} onChange={(event) => setSnapping(event.target.checked)} />
                snap to layers
              </label>
            </span>
            <p
              className="text-tiny text-soft"
              title="On a node: arrows move it, Insert or + adds one after it, Alt+↑ and Alt+↓ bend the line after it, Delete removes it"
            >
              {here.own ? 'Press to add a node, drag it, drag a line to bend it, Delete removes a node.' : here.says}
              {here.scope === 'all' && ` ${here.says}`}
            </p>
            <CurveEditor
              curve={here.curve}
              table={here.table}
              line={here.line}
              articulation={here.entering ? articulation : null}
              snapping={snapping}
              spread={
                reached.data ? [...(here.entering ? reached.data.reach.entering : reached.data.reach.came_in)] : null
              }
              ghost={fitted ? [...fitted.line] : null}
              pointOf={pointOf}
              chosen={node}
              onChoose={setNode}
              onChange={(next, gesture) => void set(next, gesture)}
              onCopy={() => useCopied.setState({ curve: here.curve })}
              onPaste={() => {
                const { curve } = useCopied.getState();
                if (curve) void set(curve);
              }}
            />
          </section>
          <div className="grid content-start gap-3 overflow-y-auto">
            <section className="card" aria-label="Curve presets">
              <h2 className="mb-1.5">Curve presets</h2>
              <div className="grid grid-cols-4 gap-1">
                {data?.shapes.map((shape) => (
                  <button
                    key={shape.id}
                    type="button"
                    title={shape.says}
                    aria-pressed={here.own && JSON.stringify(shape.curve.nodes) === JSON.stringify(here.curve.nodes)}
                    onClick={() => {
                      setNode(null);
                      void set(shape.curve);
                    }}
                    className="grid justify-items-center gap-0.5 rounded-lg border border-line py-1 text-[11.5px] leading-[12.5px] text-soft hover:border-edge aria-pressed:border-ink aria-pressed:text-ink"
                  >
                    <ShapeIcon curve={shape.curve} />
                    {shape.name}
                  </button>
                ))}
              </div>
            </section>
            {piece && articulation && (
              <Harder piece={piece} articulation={articulation} only={here.scope === 'articulation'} />
            )}
          </div>
        </div>
      </main>
      <aside
        className="grid grid-cols-[minmax(0,1fr)] content-start gap-3.5 overflow-y-auto border-l border-line bg-side p-3.5"
        aria-label="Strikes, fitting and pads"
      >
        <div className="flex gap-1" role="group" aria-label="What is shown here">
          {(['Strikes', 'Fit', 'Pads'] as const).map((one) => (
            <button
              key={one}
              type="button"
              className="chip"
              title={
                {
                  Strikes: 'Which velocities came in and which layers they reached',
                  Fit: 'Fit the curve to soft, medium and hard strikes',
                  Pads: 'Remove cross-talk and double triggers',
                }[one]
              }
              aria-pressed={side === one}
              onClick={() => show(one)}
            >
              {one}
            </button>
          ))}
        </div>
        {side === 'Fit' && (
          <Fitting here={here} piece={piece} articulation={articulation} input={input} onAccept={(c) => void set(c)} />
        )}
        {side === 'Pads' && <Misbehaving input={input} />}
        {side === 'Strikes' && (
          <>
            <LastStrike />
            {chosen && node !== null && (
              <section className="grid gap-1.5">
                <h2 className="head">
                  Node {node + 1} of {here.curve.nodes.length}
                </h2>
                <NodeFields curve={here.curve} node={node} onChange={(next, gesture) => void set(next, gesture)} />
              </section>
            )}
            {piece && articulation && <Reach piece={piece} articulation={articulation} reached={reached} />}
            {reached.data && <FindingList findings={reached.data.findings} />}
          </>
        )}
        <FindingsHere
          step="touch"
          belongs={(f) => f.where.step === 'touch' && (!here.entering || !f.where.piece || f.where.piece === piece?.id)}
        />
      </aside>
    </div>
  );
}

function useChosenInput() {
  const chosen = useInputs((s) => s.chosen);
  const kits = useInputs((s) => s.kits);
  const devices = useMidi((s) => s.devices);
  return { id: chosen, name: inputName(chosen, kits, devices) };
}

/** Where the last strike is on a curve: velocity in, and velocity out, 0 if it is ignored. */
function pointOn(
  here: Whose,
  kit: KitState,
  last: Shown | null,
  piece: string | null,
  articulation: Articulation | null,
): Point | null {
  if (!last || (last.ignored && last.why !== 'ignored')) return null;
  const aimed = last.aimed ?? last.articulationId;
  if (here.entering && pieceIdOf(aimed) !== piece) return null;
  if (here.scope === 'articulation' && aimed !== articulation?.id) return null;
  const known = kit.head.inputs.find((each) => each.known.id === last.source);
  if (here.scope === 'input' && last.source !== known?.known.id && here.own) return null;
  const entering = (known?.curve ?? kit.head.unknown_input).table[last.velocityIn] ?? 0;
  const comesIn = here.entering ? entering : last.velocityIn;
  return { comesIn, plays: last.ignored ? 0 : (here.table[comesIn] ?? 0) };
}

function LastStrike() {
  const last = useStrikes((s) => s.last);
  return (
    <section className="grid gap-1" data-testid="touch-last">
      <h2 className="head">Last strike</h2>
      {last && !last.ignored ? (
        <>
          <p className="text-[24px] font-bold tracking-tight tabular-nums">
            {last.velocityIn} → {last.velocity}
          </p>
          <p className="text-small text-soft">
            {last.piece} · {last.articulation}, layer {last.layer + 1}, take {last.label}
          </p>
        </>
      ) : last ? (
        <>
          <p className="text-[20px] font-bold tabular-nums">
            {last.velocityIn} →{' '}
            {last.why === 'ignored' ? 'ignored' : last.why === 'free' ? 'no note' : last.why.replace('_', '-')}
          </p>
          <p className="text-small text-soft">It did not play.</p>
        </>
      ) : (
        <p className="text-small text-soft">Strike something to see it on the curve.</p>
      )}
    </section>
  );
}
