/** Hi-hat openness (CC 4): zones of a note with limits to drag, their blend, and pedal calibration. */
import type { KitState, Placed } from '../../api/calls';
import { notesOf, useKit } from '../../app/kit/kitStore';
import { Slider } from '../../ui/Slider';
import { Calibrate } from './Calibrate';
import { usePieceHere } from './pieceHere';
import { Zones } from './Zones';

export function Openness() {
  const kit = useKit((s) => s.kit) as KitState;
  const edit = useKit((s) => s.edit);
  const hats = usePieceHere((piece) => piece.family === 'hats');
  if (!hats || hats.along_the_pedal.length < 2) {
    return (
      <p className="text-small text-soft">
        This kit has no hats with articulations along a pedal. Articulations named closed, half open and open are spread
        along it.
      </p>
    );
  }
  const ours = new Set(hats.articulations.map((a) => a.id));
  const zones = new Map<number, Placed[]>();
  const byPedal = new Map(kit.head.sheet.map((each) => [each.note, each.by_pedal]));
  for (const placed of kit.head.placed) {
    if (ours.has(placed.articulation) && byPedal.get(placed.note)?.includes(placed.articulation)) {
      zones.set(placed.note, [...(zones.get(placed.note) ?? []), placed]);
    }
  }
  const widest = hats.along_the_pedal[hats.along_the_pedal.length - 1] as string;
  const notes = notesOf(kit.head, widest);
  return (
    <section className="grid gap-3" aria-label="Pedal">
      <h2 className="head">{hats.name} by openness (CC 4)</h2>
      {[...zones].map(([note, here]) => (
        <Zones key={note} note={note} zones={here} />
      ))}
      {zones.size === 0 && <p className="text-small text-soft">Every articulation has a note of its own.</p>}
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
              Split {kit.head.note_names[note]} by openness (CC 4)
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
          Closing the pedal plays the pedal sound
          <span className="block text-tiny text-soft">
            for kits that send openness but no pedal note; closing chokes open articulations either way
          </span>
        </span>
      </label>
      <Calibrate />
    </section>
  );
}
