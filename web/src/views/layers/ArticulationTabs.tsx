/** A piece's name and articulations: look at, rename, copy, move and remove each. */
import { useDroppable } from '@dnd-kit/core';
import { MoreHorizontal, Plus } from 'lucide-react';
import { memo, useState } from 'react';
import type { Articulation, KitState, Piece } from '../../api/calls';
import { notesOf, useKit } from '../../app/kit/kitStore';
import { usePlace } from '../../app/kit/place';
import { Actions } from '../../ui/Actions';
import { Named } from '../../ui/Named';
import type { DropPlace } from './places';

export const ArticulationTabs = memo(function ArticulationTabs(props: {
  piece: Piece;
  articulation: Articulation | null;
}) {
  const { piece, articulation } = props;
  const edit = useKit((s) => s.edit);
  const lookAt = usePlace((s) => s.lookAt);
  const [naming, setNaming] = useState<'new' | 'articulation' | null>(null);
  const at = piece.articulations.findIndex((a) => a.id === articulation?.id);
  const move = (by: number) =>
    articulation && void edit({ kind: 'move_articulation', articulation: articulation.id, place: at + by });
  return (
    <div className="flex flex-wrap items-center gap-2">
      <h1 className="mr-1">{piece.name}</h1>
      {piece.articulations.map((a) =>
        naming === 'articulation' && a.id === articulation?.id ? (
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
          <Tab
            key={a.id}
            articulation={a}
            chosen={a.id === articulation?.id}
            onChoose={() => lookAt({ articulation: a.id })}
          />
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
      {articulation && (
        <Actions
          label={`More for ${articulation.name}`}
          className="rounded-md p-1 text-soft hover:bg-sunk"
          actions={[
            { name: 'Rename', onChoose: () => setNaming('articulation') },
            {
              name: 'Duplicate',
              onChoose: () => void edit({ kind: 'duplicate_articulation', articulation: articulation.id }),
            },
            { name: 'Move to the left', disabled: at <= 0, onChoose: () => move(-1) },
            { name: 'Move to the right', disabled: at >= piece.articulations.length - 1, onChoose: () => move(1) },
            {
              name: `Delete ${articulation.name}`,
              onChoose: () => void edit({ kind: 'remove_articulation', articulation: articulation.id }),
            },
          ]}
        >
          <MoreHorizontal size={16} />
        </Actions>
      )}
    </div>
  );
});

function Tab({
  articulation,
  chosen,
  onChoose,
}: {
  articulation: Articulation;
  chosen: boolean;
  onChoose: () => void;
}) {
  const head = useKit((s) => (s.kit as KitState).head);
  const place: DropPlace = { kind: 'articulation', articulation: articulation.id };
  const { setNodeRef, isOver } = useDroppable({ id: `articulation ${articulation.id}`, data: place });
  const note = notesOf(head, articulation.id)[0];
  return (
    <button
      ref={setNodeRef}
      type="button"
      className={`chip ${isOver ? 'outline-2 outline-plum outline-solid' : ''}`}
      data-over={isOver}
      aria-pressed={chosen}
      onClick={onChoose}
    >
      {articulation.name}
      <span className="num text-faint">{note === undefined ? 'no note' : `${head.note_names[note]} ${note}`}</span>
    </button>
  );
}
