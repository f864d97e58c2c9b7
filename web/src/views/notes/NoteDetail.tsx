/** What one note plays: each articulation with its level, and actions. */
import { useDraggable } from '@dnd-kit/core';
import type { KitState } from '../../api/calls';
import { openBringPiece } from '../../app/bringing/bringing';
import { decibels } from '../../app/kit/format';
import { articulationIn, useKit } from '../../app/kit/kitStore';
import { usePlace } from '../../app/kit/place';
import { rules } from '../../app/kit/rules';
import { useStrikes } from '../../app/playing/strikes';
import { Slider } from '../../ui/Slider';
import { useHolding } from './holding';

export function NoteDetail() {
  const kit = useKit((s) => s.kit) as KitState;
  const pieces = useKit((s) => s.pieces);
  const edit = useKit((s) => s.edit);
  const last = useStrikes((s) => s.last?.note ?? null);
  const selected = useHolding((s) => s.selected);
  const hold = useHolding((s) => s.hold);
  const lookAt = usePlace((s) => s.lookAt);
  const shown = selected ?? last;
  if (shown === null) {
    return (
      <section>
        <h2 className="head">Note</h2>
        <p className="text-small text-soft">
          Drag an articulation to a note. Press a note to hear it, or hit a pad: the note that comes in is lit on the
          sheet.
        </p>
      </section>
    );
  }
  const here = kit.head.placed.filter((p) => p.note === shown);
  const stands = kit.head.sheet.find((each) => each.note === shown);
  const articulations = new Set(here.map((p) => p.articulation));
  const standard = kit.head.standard_names[shown];
  return (
    <section className="grid gap-2" aria-label="What this note plays">
      <h2 className="head">
        On {kit.head.note_names[shown]} · {shown}
      </h2>
      {standard && <p className="text-small text-soft">The standard map has {standard.toLowerCase()} here.</p>}
      {here.length === 0 && (
        <>
          <p className="text-small text-soft">Free. Drop a sound on it to make a piece here.</p>
          <button
            type="button"
            className="btn justify-self-start"
            onClick={() => openBringPiece('own', '', { note: shown, find: rules().filed[shown] ?? '' })}
          >
            A piece from another kit here…
          </button>
        </>
      )}
      {here.map((placed) => {
        const found = articulationIn(pieces, placed.articulation);
        if (!found) return null;
        return (
          <div key={placed.articulation} className="card grid gap-1 px-3 py-2">
            <ArticulationHere
              id={placed.articulation}
              note={shown}
              name={`${found.piece.name} · ${found.articulation.name}`}
              onPress={() => lookAt({ articulation: placed.articulation })}
            />
            {stands?.by_pedal.includes(placed.articulation) && (
              <span className="text-small text-soft">
                while the pedal stands at{' '}
                <span className="num">
                  {placed.open_from}–{placed.open_to}
                </span>
              </span>
            )}
            <Slider
              label={`Level of ${found.piece.name} ${found.articulation.name} on this note`}
              value={placed.gain_db}
              min={-24}
              max={12}
              step={0.5}
              page={3}
              reset={0}
              show={(v) => `${decibels(v)} dB`}
              onChange={(gain_db, gesture) =>
                void edit({ kind: 'set_placed', note: shown, articulation: placed.articulation, gain_db }, gesture)
              }
            />
            <span className="flex flex-wrap gap-x-3">
              {articulations.size > 1 && (
                <button
                  type="button"
                  className="link text-small"
                  aria-label={`Move ${found.piece.name} ${found.articulation.name} to another note`}
                  onClick={() => hold({ articulation: placed.articulation, from: shown })}
                >
                  Move it…
                </button>
              )}
              <button
                type="button"
                className="link text-small"
                onClick={() => void edit({ kind: 'remove_from_note', articulation: placed.articulation, note: shown })}
              >
                Remove from this note
              </button>
            </span>
          </div>
        );
      })}
      {here.length > 0 && (
        <button
          type="button"
          className="btn justify-self-start"
          onClick={() => hold({ articulation: null, from: shown })}
        >
          Move everything to another note…
        </button>
      )}
    </section>
  );
}

/** An articulation of the note, which can be dragged to another note alone. */
function ArticulationHere(props: { id: string; note: number; name: string; onPress: () => void }) {
  const { setNodeRef, listeners } = useDraggable({
    id: `here ${props.note} ${props.id}`,
    data: { articulation: props.id, from: props.note },
  });
  return (
    <button
      ref={setNodeRef}
      {...listeners}
      type="button"
      title="Drag it to another note"
      className="cursor-grab text-left font-semibold"
      onClick={props.onPress}
    >
      {props.name}
    </button>
  );
}
