/** The notes of an incoming piece, articulation by articulation, chosen on a small note sheet or typed. */
import { useMemo, useState } from 'react';
import type { BringShown } from '../../api/calls';
import { Typed } from '../../ui/Typed';
import { articulationIn, useKit } from '../kit/kitStore';
import { ask, useBringPiece } from './bringing';

/** The octaves where drums usually are; any other note can be typed. */
const OCTAVES = [7, 6, 5, 4, 3, 2];
const TWELVE = Array.from({ length: 12 }, (_, semitone) => semitone);

export function OnNotes({ shown }: { shown: BringShown }) {
  const asked = useBringPiece((s) => s.asked);
  const names = useKit((s) => s.kit?.head.note_names) ?? [];
  const [picked, setPicked] = useState<string | null>(null);
  const coming = shown.articulations.filter(
    (articulation) => !asked?.articulations || asked.articulations.includes(articulation.id),
  );
  const placing = coming.find((articulation) => articulation.id === picked) ?? coming[0];
  const notes =
    asked?.notes ?? Object.entries(shown.free_notes).map(([articulation, note]) => ({ articulation, note }));
  const put = (articulation: string, note: number) =>
    void ask({
      notes: [
        ...notes.filter((each) => each.articulation !== articulation),
        { articulation, note: Math.max(0, Math.min(127, Math.round(note))) },
      ],
    });
  return (
    <div className="grid gap-1.5">
      {coming.map((articulation) => {
        const note = notes.find((each) => each.articulation === articulation.id)?.note;
        return (
          <div key={articulation.id} className="flex items-center gap-2 text-small">
            {coming.length > 1 ? (
              <label className="flex min-w-0 grow items-center gap-2">
                <input
                  type="radio"
                  name="placing"
                  checked={articulation.id === placing?.id}
                  onChange={() => setPicked(articulation.id)}
                />
                <span className="truncate">{articulation.name} on</span>
              </label>
            ) : (
              <span className="grow truncate">{articulation.name} on</span>
            )}
            <span className="num text-faint">{note === undefined ? '' : names[note]}</span>
            <Typed
              label={`Note of ${articulation.name}`}
              value={note ?? 0}
              onType={(value) => put(articulation.id, value)}
            />
          </div>
        );
      })}
      {placing && <SmallSheet mine={notes} placing={placing} onPut={(note) => put(placing.id, note)} />}
    </div>
  );
}

interface SmallSheetProps {
  mine: readonly { articulation: string; note: number }[];
  placing: { id: string; name: string };
  onPut: (note: number) => void;
}

function SmallSheet({ mine, placing, onPut }: SmallSheetProps) {
  const head = useKit((s) => s.kit?.head);
  const pieces = useKit((s) => s.pieces);
  const playing = useMemo(() => {
    const found = new Map<number, string[]>();
    for (const { note, articulation } of head?.placed ?? []) {
      const playing = articulationIn(pieces, articulation);
      const name = playing ? `${playing.piece.name} ${playing.articulation.name}` : articulation;
      found.set(note, [...new Set([...(found.get(note) ?? []), name])]);
    }
    return found;
  }, [head, pieces]);
  if (!head) return null;
  return (
    <div
      role="group"
      aria-label={`Notes for ${placing.name}`}
      className="grid grid-cols-12 gap-[2px]"
      data-testid="small-sheet"
    >
      {OCTAVES.map((octave) =>
        TWELVE.map((semitone) => {
          const note = octave * 12 + semitone;
          const [here, standard] = [playing.get(note), head.standard_names[note]];
          const its = mine.find((each) => each.note === note);
          const says = [
            `${head.note_names[note]} ${note}`,
            here ? here.join(', ') : 'free',
            standard ? `${standard} in the standard map` : '',
          ];
          return (
            <button
              key={note}
              type="button"
              // The note can be typed beside it, so Tab need not pass seventy-two buttons.
              tabIndex={-1}
              aria-pressed={its?.articulation === placing.id}
              aria-label={says.filter(Boolean).join(', ')}
              title={says.filter(Boolean).join(', ')}
              onClick={() => onPut(note)}
              className={`num h-6 rounded-[4px] border text-[10.5px] leading-none ${
                its
                  ? 'border-zest bg-zest-wash font-semibold text-ink'
                  : here
                    ? 'border-edge bg-edge/40 text-soft'
                    : 'border-line bg-card text-faint hover:border-edge'
              }`}
            >
              {note}
            </button>
          );
        }),
      )}
    </div>
  );
}
