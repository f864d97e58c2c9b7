/** A piece's name and its articulations, each to look at, rename, copy, move and take out. */
import { useDroppable } from '@dnd-kit/core';
import { MoreHorizontal, Plus } from 'lucide-react';
import { memo, useState } from 'react';
import type { Articulation, KitState, Piece } from '../../api/calls';
import { notesOf, useKit } from '../../app/kit/kitStore';
import { usePlace } from '../../app/kit/place';
import { Actions } from '../../ui/Actions';
import { Named } from '../../ui/Named';
import type { DropPlace } from './places';

export const StrokeTabs = memo(function StrokeTabs(props: { piece: Piece; stroke: Articulation | null }) {
  const { piece, stroke } = props;
  const edit = useKit((s) => s.edit);
  const lookAt = usePlace((s) => s.lookAt);
  const [naming, setNaming] = useState<'new' | 'stroke' | null>(null);
  const at = piece.articulations.findIndex((a) => a.id === stroke?.id);
  const move = (by: number) =>
    stroke && void edit({ kind: 'move_articulation', articulation: stroke.id, place: at + by });
  return (
    <div className="flex flex-wrap items-center gap-2">
      <h1 className="mr-1">{piece.name}</h1>
      {piece.articulations.map((a) =>
        naming === 'stroke' && a.id === stroke?.id ? (
          <Named
            key={a.id}
            label={`New name of ${a.name}`}
            value={a.name}
            onName={(name) => {
              setNaming(null);
              if (name && name !== a.name) void edit({ kind: 'rename_articulation', articulation: a.id, name });
            }}
          />
        ) : (
          <Tab key={a.id} stroke={a} chosen={a.id === stroke?.id} onChoose={() => lookAt({ articulation: a.id })} />
        ),
      )}
      {naming === 'new' ? (
        <Named
          label="Name of the new articulation"
          value=""
          onName={(name) => {
            setNaming(null);
            if (name) void edit({ kind: 'make_articulation', piece: piece.id, name });
          }}
        />
      ) : (
        <button
          type="button"
          className="rounded-md p-1 text-soft hover:bg-sunk"
          aria-label={`Add an articulation to ${piece.name}`}
          title="Add an articulation"
          onClick={() => setNaming('new')}
        >
          <Plus size={15} />
        </button>
      )}
      {stroke && (
        <Actions
          label={`More for ${stroke.name}`}
          className="rounded-md p-1 text-soft hover:bg-sunk"
          actions={[
            { name: 'Rename', onChoose: () => setNaming('stroke') },
            {
              name: 'Duplicate',
              onChoose: () => void edit({ kind: 'duplicate_articulation', articulation: stroke.id }),
            },
            { name: 'Move to the left', disabled: at <= 0, onChoose: () => move(-1) },
            { name: 'Move to the right', disabled: at >= piece.articulations.length - 1, onChoose: () => move(1) },
            {
              name: `Remove ${stroke.name}`,
              onChoose: () => void edit({ kind: 'remove_articulation', articulation: stroke.id }),
            },
          ]}
        >
          <MoreHorizontal size={16} />
        </Actions>
      )}
    </div>
  );
});

function Tab({ stroke, chosen, onChoose }: { stroke: Articulation; chosen: boolean; onChoose: () => void }) {
  const head = useKit((s) => (s.kit as KitState).head);
  const place: DropPlace = { kind: 'stroke', stroke: stroke.id };
  const { setNodeRef, isOver } = useDroppable({ id: `stroke ${stroke.id}`, data: place });
  const note = notesOf(head, stroke.id)[0];
  return (
    <button
      ref={setNodeRef}
      type="button"
      className={`chip ${isOver ? 'outline-2 outline-plum outline-solid' : ''}`}
      data-over={isOver}
      aria-pressed={chosen}
      onClick={onChoose}
    >
      {stroke.name}
      <span className="num text-faint">{note === undefined ? 'no note' : `${head.note_names[note]} ${note}`}</span>
    </button>
  );
}
