/** Every articulation with its notes, to be dragged or picked up. */
import { useDraggable } from '@dnd-kit/core';
import type { KitState } from '../../api/calls';
import { notesOf, useKit } from '../../app/kit/kitStore';
import { usePlace } from '../../app/kit/place';
import { useStrikes } from '../../app/playing/strikes';
import { useHolding } from './holding';

export function ArticulationList({ wanted }: { wanted: string }) {
  const kit = useKit((s) => s.kit) as KitState;
  const pieces = useKit((s) => s.pieces);
  const word = wanted.trim().toLowerCase();
  return (
    <aside className="overflow-y-auto border-r border-line px-2 py-3" aria-label="Articulations">
      <h2 className="head mx-1.5 mb-1 flex justify-between">
        <span>Articulations</span>
        <span>note</span>
      </h2>
      {kit.order.map((id) => {
        const piece = pieces.get(id);
        if (!piece) return null;
        const articulations = piece.articulations.filter((a) => `${piece.name} ${a.name}`.toLowerCase().includes(word));
        if (word && !articulations.length) return null;
        return (
          <div key={id} className="mb-1.5">
            <b className="px-1.5 font-semibold">{piece.name}</b>
            {articulations.map((articulation) => (
              <DraggableArticulation key={articulation.id} id={articulation.id} name={articulation.name} />
            ))}
          </div>
        );
      })}
    </aside>
  );
}

function DraggableArticulation(props: { id: string; name: string }) {
  const kit = useKit((s) => s.kit) as KitState;
  const holding = useHolding((s) => s.held?.articulation === props.id);
  const hold = useHolding((s) => s.hold);
  const lookAt = usePlace((s) => s.lookAt);
  const struck = useStrikes((s) => s.last?.articulationId === props.id);
  const { setNodeRef, listeners } = useDraggable({
    id: `list ${props.id}`,
    data: { articulation: props.id, from: null },
  });
  const notes = notesOf(kit.head, props.id);
  return (
    <button
      ref={setNodeRef}
      {...listeners}
      type="button"
      aria-pressed={holding}
      title="Drag to a note; or press, choose a note and put it there"
      data-articulation={props.id}
      onClick={() => {
        lookAt({ articulation: props.id });
        hold(holding ? null : { articulation: props.id, from: null });
      }}
      className={`flex w-full cursor-grab items-center justify-between gap-2 rounded-md min-h-6 py-px pr-1 pl-3.5 text-left text-soft ${
        holding || struck ? 'bg-plum-wash text-ink' : 'hover:bg-sunk'
      }`}
    >
      <span className="truncate">{props.name}</span>
      <span className="flex flex-wrap justify-end gap-1">
        {notes.length ? (
          notes.map((note) => (
            <span key={note} className="tag">
              {kit.head.note_names[note]}
            </span>
          ))
        ) : (
          <span className="tag border-amber-line bg-amber-wash">–</span>
        )}
      </span>
    </button>
  );
}
