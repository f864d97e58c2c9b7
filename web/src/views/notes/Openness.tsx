/** The hats by openness: zones of a note with limits to drag, how they blend, and the pedal calibrated. */
import { type KeyboardEvent, type PointerEvent, useEffect, useRef, useState } from 'react';
import { type KitState, type Placed, post } from '../../api/calls';
import { type Message, onMessage } from '../../app/door';
import { strengthColour } from '../../app/format';
import { useHeld } from '../../app/held';
import { inputName, useInputs } from '../../app/inputs';
import { articulationIn, newGesture, notesOf, useKit } from '../../app/kitStore';
import { useMidi } from '../../app/midi';
import { Slider } from '../../ui/Slider';
import { Typed } from '../../ui/Typed';
import { usePieceHere } from './Notes';

export function Openness() {
  const kit = useKit((s) => s.kit) as KitState;
  const edit = useKit((s) => s.edit);
  const hats = usePieceHere((piece) => piece.family === 'hats');
  if (!hats || hats.along_the_pedal.length < 2) {
    return (
      <p className="text-small text-soft">
        This kit has no hats with strokes along a pedal. Strokes named closed, half open and open are spread along it.
      </p>
    );
  }
  const ours = new Set(hats.articulations.map((a) => a.id));
  const zones = new Map<number, Placed[]>();
  for (const placed of kit.head.placed) {
    if (ours.has(placed.articulation) && (placed.open_from > 0 || placed.open_to < 127)) {
      zones.set(placed.note, [...(zones.get(placed.note) ?? []), placed]);
    }
  }
  const widest = hats.along_the_pedal[hats.along_the_pedal.length - 1] as string;
  const notes = notesOf(kit.head, widest);
  return (
    <section className="grid gap-3" aria-label="Pedal">
      <h3>{hats.name} by openness</h3>
      {[...zones].map(([note, here]) => (
        <Zones key={note} note={note} zones={here} />
      ))}
      {zones.size === 0 && <p className="text-small text-soft">Every stroke has a note of its own.</p>}
      <span className="flex flex-wrap gap-1.5">
        {notes
          .filter((note) => !zones.has(note))
          .slice(0, 2)
          .map((note) => (
            <button
              key={note}
              type="button"
              className="btn"
              onClick={() => void edit({ kind: 'spread_openness', piece: hats.id, note })}
            >
              Split {kit.head.note_names[note]} by openness
            </button>
          ))}
      </span>
      <div className="grid grid-cols-[84px_1fr] items-center gap-x-2 gap-y-1 text-small">
        <span>Zones blend</span>
        <Slider
          label="Zones blend over"
          value={kit.head.openness_blend}
          min={0}
          max={64}
          step={1}
          reset={0}
          show={(v) => (v ? `over ${v}` : 'no')}
          onChange={(blend, gesture) => void edit({ kind: 'set_openness', blend }, gesture)}
        />
      </div>
      <label className="flex items-start gap-2 text-small">
        <input
          type="checkbox"
          className="mt-0.5"
          checked={kit.head.pedal_sounds}
          onChange={(event) => void edit({ kind: 'set_openness', pedal_sounds: event.target.checked })}
        />
        <span>
          Closing the pedal sounds by itself
          <span className="block text-tiny text-soft">
            for kits that send openness and no pedal note; closing stops open strokes either way
          </span>
        </span>
      </label>
      <Calibrate />
    </section>
  );
}

const SHOWN = 245;
/** Tight is dense, open is light. */
const zoneColour = (k: number, n: number) => strengthColour(1 - k / Math.max(1, n - 1) / 1.25);

/** Zones with one limit where the hand has it; it stops at its neighbours', as the core will have it. */
const moved = (zones: Placed[], held: { limit: number; openness: number } | null): Placed[] => {
  const [below, above] = held ? [zones[held.limit], zones[held.limit + 1]] : [];
  if (!held || !below || !above) return zones;
  const limit = Math.max(below.open_from, Math.min(above.open_to - 1, held.openness));
  return zones.map((zone) =>
    zone === below ? { ...zone, open_to: limit } : zone === above ? { ...zone, open_from: limit + 1 } : zone,
  );
};

/** One note's zones along the pedal, closed at the left; the limits between them are dragged or nudged. */
function Zones({ note, zones }: { note: number; zones: Placed[] }) {
  const kit = useKit((s) => s.kit) as KitState;
  const pieces = useKit((s) => s.pieces);
  const edit = useKit((s) => s.edit);
  const player = useKit((s) => s.player);
  const last = useInputs((s) => s.last);
  const track = useRef<HTMLDivElement>(null);
  const gesture = useRef('');
  const { held, hold, grip, letGo } = useHeld<{ limit: number; openness: number }>(zones);
  const ordered = moved(
    [...zones].sort((a, b) => a.open_from - b.open_from),
    held,
  );
  // Where neighbours sound together, as the core compiled it: each reaches into the other's zone.
  const answers = kit.play_head?.notes[note] ?? [];
  const blends = ordered.slice(0, -1).map((zone, k) => ({
    from: answers.find((a) => a.articulation === ordered[k + 1]?.articulation)?.open_from ?? 1,
    to: answers.find((a) => a.articulation === zone.articulation)?.open_to ?? 0,
  }));
  const openness = last && player ? player.opennessOf(last.input) : null;
  const told = last?.kind === 'controller' || last?.kind === 'note';
  const move = (limit: number, to: number, by: string) => {
    const openness = Math.max(0, Math.min(126, Math.round(to)));
    hold({ limit, openness });
    void edit({ kind: 'move_openness_limit', note, limit, openness }, by);
  };
  const drag = (event: PointerEvent, limit: number) => {
    const box = track.current?.getBoundingClientRect();
    if (box && event.currentTarget.hasPointerCapture(event.pointerId)) {
      move(limit, ((event.clientX - box.left) / box.width) * 128 - 1, gesture.current);
    }
  };
  const key = (event: KeyboardEvent, limit: number, at: number) => {
    const by = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1, PageDown: -10, PageUp: 10 }[event.key];
    if (by === undefined) return;
    event.preventDefault();
    move(limit, at + by, newGesture('limit'));
  };
  return (
    <div className="grid gap-1" data-zones={note}>
      <span className="flex items-baseline justify-between text-small">
        <b className="font-semibold">
          {kit.head.note_names[note]} · <span className="num">{note}</span>
        </b>
        <button type="button" className="link" onClick={() => void edit({ kind: 'note_each', note })}>
          A note each
        </button>
      </span>
      <div ref={track} className="relative h-[26px]" style={{ maxWidth: SHOWN }}>
        {ordered.map((zone, k) => (
          <span
            key={zone.articulation}
            className="absolute inset-y-0 first:rounded-l-md last:rounded-r-md"
            style={{
              left: `${(zone.open_from / 128) * 100}%`,
              width: `${((zone.open_to + 1 - zone.open_from) / 128) * 100}%`,
              background: zoneColour(k, ordered.length),
            }}
          />
        ))}
        {blends.map(
          ({ from, to }, k) =>
            from <= to && (
              <span
                key={from}
                className="absolute inset-y-0"
                data-testid="zones-blend"
                style={{
                  left: `${(from / 128) * 100}%`,
                  width: `${((to + 1 - from) / 128) * 100}%`,
                  background: `linear-gradient(to right, ${zoneColour(k, ordered.length)}, ${zoneColour(k + 1, ordered.length)})`,
                }}
              />
            ),
        )}
        {ordered.slice(0, -1).map((zone, k) => (
          <div
            key={zone.articulation}
            role="slider"
            tabIndex={0}
            aria-label={`Limit after ${articulationIn(pieces, zone.articulation)?.stroke.name}`}
            aria-valuemin={0}
            aria-valuemax={126}
            aria-valuenow={zone.open_to}
            title={`up to ${zone.open_to}`}
            className="absolute -top-1 h-[34px] w-[9px] -translate-x-1/2 cursor-ew-resize touch-none rounded-[3px] border border-card bg-ink"
            style={{ left: `${((zone.open_to + 1) / 128) * 100}%` }}
            onPointerDown={(event) => {
              event.currentTarget.setPointerCapture(event.pointerId);
              gesture.current = newGesture('limit');
              grip();
            }}
            onPointerMove={(event) => drag(event, k)}
            onPointerUp={letGo}
            onPointerCancel={letGo}
            onKeyDown={(event) => key(event, k, zone.open_to)}
          />
        ))}
        {told && openness !== null && (
          <i
            className="pointer-events-none absolute -top-1.5 -bottom-1.5 w-[2.5px] -translate-x-1/2 bg-plum"
            style={{ left: `${(openness / 127) * 100}%` }}
            data-testid="openness-now"
            aria-hidden="true"
          />
        )}
      </div>
      <span className="grid grid-cols-2 gap-x-3 text-tiny text-soft">
        {ordered.map((zone, k) => (
          <span key={zone.articulation} className="flex items-center gap-1.5">
            <i
              className="inline-block h-2.5 w-2.5 rounded-[3px]"
              style={{ background: zoneColour(k, ordered.length) }}
              aria-hidden="true"
            />
            {articulationIn(pieces, zone.articulation)?.stroke.name}
            <span className="num ml-auto text-faint">
              {zone.open_from}–{zone.open_to}
            </span>
          </span>
        ))}
      </span>
    </div>
  );
}

const USUAL = { controller: 4, closed_at: 0, open_at: 127 };
const byte = (value: number) => Math.max(0, Math.min(127, Math.round(value)));

/** Close the pedal, open it, done: which controller it is, its ends, and whether it is reversed. */
function Calibrate() {
  const kit = useKit((s) => s.kit) as KitState;
  const edit = useKit((s) => s.edit);
  const chosen = useInputs((s) => s.chosen);
  const kits = useInputs((s) => s.kits);
  const devices = useMidi((s) => s.devices);
  const [moves, setMoves] = useState<Message[] | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const name = inputName(chosen, kits, devices);
  const known = kit.head.inputs.find((input) => input.known.id === chosen)?.known;
  const pedal = known ?? USUAL;
  const usual = pedal.controller === USUAL.controller && pedal.closed_at === 0 && pedal.open_at === 127;
  const set = (change: Partial<typeof USUAL>) => void edit({ kind: 'set_input', input: chosen, name, ...change });
  const listening = moves !== null;
  useEffect(() => {
    if (!listening) return;
    return onMessage((message) => {
      if (message.input === chosen && message.kind === 'controller') setMoves((all) => [...(all ?? []), message]);
    });
  }, [listening, chosen]);
  const finish = async () => {
    const heard = (moves ?? []).map((m) => ({ time_ms: m.at, controller: m.number, value: m.value }));
    setMoves(null);
    try {
      const found = await post(
        '/api/pads/calibrate',
        {},
        {
          moves: heard,
        },
      );
      setTrouble(null);
      await edit({ kind: 'set_input', input: chosen, name, ...found });
    } catch (error) {
      setTrouble((error as Error).message);
    }
  };
  const values = moves?.map((m) => m.value) ?? [];
  return (
    <div className="card grid gap-1.5 px-3 py-2.5 text-small">
      <b className="font-semibold">The pedal of {name}</b>
      <span className="text-soft" data-testid="calibrated">
        CC{' '}
        <Typed label="Controller of the pedal" value={pedal.controller} onType={(v) => set({ controller: byte(v) })} />:
        closed at{' '}
        <Typed
          label="Value with the pedal closed"
          value={pedal.closed_at}
          onType={(v) => set({ closed_at: byte(v) })}
        />
        , open at{' '}
        <Typed label="Value with the pedal open" value={pedal.open_at} onType={(v) => set({ open_at: byte(v) })} />
        {pedal.closed_at > pedal.open_at ? ', reversed' : ''}
        {usual ? ', as most send it.' : '.'}
      </span>
      {listening && (
        <p className="text-plum" role="status">
          Close the pedal, then open it all the way.{' '}
          {values.length > 0 && (
            <span className="num">
              {Math.min(...values)}–{Math.max(...values)}
            </span>
          )}
        </p>
      )}
      {trouble && (
        <p role="alert" className="text-zest-text">
          {trouble}
        </p>
      )}
      <span className="flex flex-wrap gap-1.5">
        {listening ? (
          <>
            <button type="button" className="btn btn-go" onClick={() => void finish()}>
              It is open now
            </button>
            <button type="button" className="btn" onClick={() => setMoves(null)}>
              Leave it
            </button>
          </>
        ) : (
          <button
            type="button"
            className="btn"
            onClick={() => {
              setTrouble(null);
              setMoves([]);
            }}
          >
            Calibrate
          </button>
        )}
        {!listening && (
          <button
            type="button"
            className="btn"
            onClick={() => set({ closed_at: pedal.open_at, open_at: pedal.closed_at })}
          >
            Turn it round
          </button>
        )}
      </span>
    </div>
  );
}
