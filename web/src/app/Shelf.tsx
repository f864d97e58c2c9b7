/** The pieces of the kit, with their skins, notes and outputs. */
import { useEffect } from 'react';
import { SkinIcon } from '../ui/Skin';
import { useFindings } from './Findings';
import { notesOf, outputsOf, useKit } from './kitStore';
import { useLookedAt, usePlace } from './place';

export function Shelf({ aside }: { aside?: (pieceId: string) => React.ReactNode }) {
  const kit = useKit((s) => s.kit);
  const pieces = useKit((s) => s.pieces);
  const player = useKit((s) => s.player);
  const { piece: looked } = useLookedAt();
  const lookAt = usePlace((s) => s.lookAt);
  const { data: findings = [] } = useFindings();
  const lookedId = looked?.id ?? null;
  useEffect(() => player?.showing(lookedId), [player, lookedId]);
  if (!kit) return null;
  return (
    <aside className="overflow-y-auto border-r border-line px-2.5 py-3" aria-label="Pieces">
      <h3 className="mx-1.5 mb-2 flex justify-between">
        <span>Pieces</span>
        <span>{aside ? '' : 'note → out'}</span>
      </h3>
      {kit.order.length === 0 && (
        <p className="px-1.5 text-small text-soft">No pieces yet. Bring in recordings first.</p>
      )}
      <ul className="grid gap-px">
        {kit.order.map((id) => {
          const piece = pieces.get(id);
          if (!piece) return null;
          const main = piece.articulations[0];
          const note = usualNote(
            piece.articulations.flatMap((a) => notesOf(kit, a.id)),
            kit.head.standard_names,
          );
          const outputs = outputsOf(kit, id);
          const channel = kit.head.channels.find((c) => c.id === id);
          const noticed = findings.some((f) => f.where.piece === id && f.level !== 'information');
          return (
            <li key={id}>
              <button
                type="button"
                aria-current={looked?.id === id}
                onClick={() => lookAt({ piece: id })}
                className={`grid w-full grid-cols-[30px_1fr_auto] items-center gap-2 rounded-[9px] px-1.5 py-[5px] text-left ${
                  looked?.id === id ? 'bg-card shadow-[0_0_0_1px_var(--line),var(--shadow)]' : 'hover:bg-sunk'
                }`}
              >
                <SkinIcon
                  layers={main?.layers.length ?? 0}
                  takes={Math.max(0, ...(main?.layers.map((l) => l.takes.length) ?? []))}
                />
                <span className="min-w-0">
                  <span className="block truncate leading-tight font-semibold">
                    {piece.name}
                    {noticed && (
                      <i
                        className="ml-1.5 inline-block h-1.5 w-1.5 rounded-full bg-amber-line align-middle"
                        title="Has findings"
                      />
                    )}
                  </span>
                  <span className="num text-faint">
                    {main?.layers.length ?? 0} × {Math.max(0, ...(main?.layers.map((l) => l.takes.length) ?? []))}
                  </span>
                </span>
                {aside ? (
                  aside(id)
                ) : (
                  <span className="flex gap-1">
                    <span className="tag">{note === undefined ? '–' : kit.head.note_names[note]}</span>
                    <span className="tag">{channel ? channel.output || 1 : (outputs[0] ?? '–')}</span>
                  </span>
                )}
              </button>
            </li>
          );
        })}
      </ul>
    </aside>
  );
}

/** The note that stands for a piece: its first that the standard map knows, else its first. */
const usualNote = (notes: number[], standard: Record<string, string>) =>
  notes.find((note) => standard[note]) ?? notes[0];
