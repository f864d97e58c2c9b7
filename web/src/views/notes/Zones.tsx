/** The openness zones of one note, with limits to drag. */

import { type KeyboardEvent, type PointerEvent, useRef } from 'react';
import type { KitState, Placed } from '../../api/calls';
import { articulationIn, useKit } from '../../app/kit/kitStore';
import { limitsOf, within } from '../../app/kit/rules';
import { useInputs } from '../../app/playing/inputs';
import { strengthColour } from '../../ui/colours';
import { newGesture } from '../../ui/gestures';
import { useHeld } from '../../ui/held';
import { nudged } from '../../ui/nudging';

const SHOWN = 245;

/** Closed is dense, open is light. */
const zoneColour = (k: number, n: number) => strengthColour(1 - k / Math.max(1, n - 1) / 1.25);

/** One note's zones, closed at the left; the limits between them can be dragged or nudged. */
export function Zones({ note, zones }: { note: number; zones: Placed[] }) {
  const kit = useKit((s) => s.kit) as KitState;
  const pieces = useKit((s) => s.pieces);
  const edit = useKit((s) => s.edit);
  const player = useKit((s) => s.player);
  const last = useInputs((s) => s.last);
  const track = useRef<HTMLDivElement>(null);
  const gesture = useRef('');
  const { held, hold, grip, letGo } = useHeld<{ limit: number; openness: number }>(zones);
  const ordered = [...zones].sort((a, b) => a.open_from - b.open_from);
  /** A limit's openness, dragged or saved. */
  const limitAt = (k: number, kept: number) => (held?.limit === k ? held.openness : kept);
  // Where neighbouring zones blend, as compiled by the core.
  const answers = kit.play_head?.notes[note] ?? [];
  const blends = ordered.slice(0, -1).map((zone, k) => ({
    from: answers.find((a) => a.articulation === ordered[k + 1]?.articulation)?.open_from ?? 1,
    to: answers.find((a) => a.articulation === zone.articulation)?.open_to ?? 0,
  }));
  const openness = last && player ? player.opennessOf(last.input) : null;
  const told = last?.kind === 'controller' || last?.kind === 'note';
  const move = (limit: number, to: number, by: string) => {
    const openness = within('move_openness_limit.openness', Math.round(to));
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
    const to = nudged(event.key, at, { least: 0, most: 127, page: 10 });
    if (to === null) return;
    event.preventDefault();
    move(limit, to, newGesture('limit'));
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
            aria-label={`Limit after ${articulationIn(pieces, zone.articulation)?.articulation.name}`}
            aria-valuemin={0}
            aria-valuemax={limitsOf('move_openness_limit.openness').most}
            aria-valuenow={limitAt(k, zone.open_to)}
            title={`up to ${limitAt(k, zone.open_to)}`}
            className="absolute -top-1 h-[34px] w-[9px] -translate-x-1/2 cursor-ew-resize touch-none rounded-[3px] border border-card bg-ink"
            style={{ left: `${((limitAt(k, zone.open_to) + 1) / 128) * 100}%` }}
            onPointerDown={(event) => {
              event.currentTarget.setPointerCapture(event.pointerId);
              gesture.current = newGesture('limit');
              grip();
            }}
            onPointerMove={(event) => drag(event, k)}
            onPointerUp={letGo}
            onPointerCancel={letGo}
            onKeyDown={(event) => key(event, k, limitAt(k, zone.open_to))}
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
            {articulationIn(pieces, zone.articulation)?.articulation.name}
            <span className="num ml-auto text-faint">
              {zone.open_from}–{zone.open_to}
            </span>
          </span>
        ))}
      </span>
    </div>
  );
}
