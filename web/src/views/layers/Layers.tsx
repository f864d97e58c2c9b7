/** Layers: lay a stroke's takes out by strength, place the boundaries, choose how repeats alternate. */
import { DndContext, type DragEndEvent, PointerSensor, pointerWithin, useSensor, useSensors } from '@dnd-kit/core';
import { useDeferredValue, useState } from 'react';
import type { Articulation, Edit, KitState, Piece } from '../../api/calls';
import { FindingsHere } from '../../app/Findings';
import { useKit } from '../../app/kitStore';
import { useLookedAt } from '../../app/place';
import { Shelf } from '../../app/Shelf';
import { Dynamics } from './Dynamics';
import { usePreview } from './preview';
import { Strike } from './Strike';
import { StrokeTabs } from './StrokeTabs';
import { useSelected } from './selection';
import { TakeDetail } from './TakeDetail';
import { type DropPlace, TakeGrid } from './TakeGrid';
import { Tools } from './Tools';

export default function Layers() {
  const { piece, stroke } = useLookedAt();
  return (
    <div className="grid min-h-0 grid-cols-[208px_minmax(0,1fr)_264px] max-[1180px]:grid-cols-[180px_minmax(0,1fr)_212px]">
      <Shelf />
      {piece ? (
        <PieceLayers key={piece.id} piece={piece} stroke={stroke} />
      ) : (
        <main className="grid place-content-center gap-1 text-center text-soft">
          <h1 className="text-ink">No pieces yet</h1>
          <p>Bring recordings in under Recordings and make pieces of them, or make a piece on the shelf.</p>
        </main>
      )}
      <aside
        className="grid grid-cols-[minmax(0,1fr)] content-start gap-4 overflow-y-auto border-l border-line bg-side p-3.5"
        aria-label="Selected take"
      >
        {piece && stroke && stroke.takes.length > 0 && <TakeDetail piece={piece} stroke={stroke} />}
        {piece && (
          <FindingsHere
            belongs={(f) =>
              stroke
                ? f.where.articulation === stroke.id || (!f.where.articulation && f.where.piece === piece.id)
                : f.where.piece === piece.id
            }
          />
        )}
      </aside>
    </div>
  );
}

function PieceLayers({ piece, stroke }: { piece: Piece; stroke: Articulation | null }) {
  const edit = useKit((s) => s.edit);
  const kit = useKit((s) => s.kit) as KitState;
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 5 } }));
  const { takes: selected } = useSelected(stroke);
  const drop = (event: DragEndEvent) => {
    const place = event.over?.data.current as DropPlace | undefined;
    const take = String(event.active.data.current?.take ?? '');
    if (!place || !stroke) return;
    const takes = selected.includes(take) ? selected : [take];
    const made = editOfDrop(stroke, takes, place);
    if (made) void edit(made);
  };
  const announcements = {
    onDragStart: () => 'Take picked up.',
    onDragOver: () => undefined,
    onDragEnd: ({ over }: { over: unknown }) => (over ? 'Take put down.' : 'Take left where it was.'),
    onDragCancel: () => 'Take left where it was.',
  };
  return (
    <DndContext sensors={sensors} collisionDetection={pointerWithin} onDragEnd={drop} accessibility={{ announcements }}>
      <main className="flex min-h-0 flex-col gap-2.5 overflow-hidden px-[18px] py-3">
        <StrokeTabs piece={piece} stroke={stroke} />
        {stroke && stroke.takes.length > 0 ? (
          <StrokeLayers key={stroke.id} piece={piece} stroke={stroke} version={kit.version} />
        ) : (
          <section className="grid grow place-content-center gap-1 text-center text-soft">
            <h2 className="text-ink">{stroke ? `Nothing in ${stroke.name} yet` : `Nothing in ${piece.name} yet`}</h2>
            <p className="max-w-[420px]">
              Drop recordings on {piece.name} on the shelf to add to it
              {stroke ? ', or drag takes here from another articulation.' : '.'}
            </p>
          </section>
        )}
      </main>
    </DndContext>
  );
}

/** What a drop means: on a take the two change places, beside one it is put in, on a name it moves there. */
function editOfDrop(stroke: Articulation, takes: string[], place: DropPlace): Edit | null {
  const [take] = takes;
  if (place.kind === 'stroke') {
    return place.stroke === stroke.id
      ? null
      : { kind: 'move_takes', articulation: stroke.id, takes, layer: null, to: place.stroke };
  }
  if (place.kind === 'aside') return { kind: 'move_takes', articulation: stroke.id, takes, layer: null };
  const there = stroke.layers[place.layer]?.takes[place.place];
  if (place.kind === 'take' && there && takes.length === 1 && take) {
    const placed = stroke.layers.some((layer) => layer.takes.includes(take));
    if (there === take) return null;
    if (placed) return { kind: 'swap_takes', articulation: stroke.id, take, other: there };
  }
  return { kind: 'move_takes', articulation: stroke.id, takes, layer: place.layer, place: place.place };
}

function StrokeLayers({ piece, stroke, version }: { piece: Piece; stroke: Articulation; version: number }) {
  const [linked, setLinked] = useState(true);
  const preview = usePreview(stroke, version);
  // While a boundary is dragged the chart follows the hand, and the grid follows when there is time.
  const laidOut = useDeferredValue(stroke);
  return (
    <>
      <div className="grid shrink-0 grid-cols-[252px_minmax(0,1fr)] gap-3 max-[1180px]:grid-cols-[190px_minmax(0,1fr)]">
        <Strike piece={piece} stroke={stroke} />
        <section className="card flex min-w-0 flex-col" aria-label="Dynamics">
          <Tools stroke={stroke} linked={linked} onLinked={setLinked} preview={preview} />
          <Dynamics stroke={stroke} ghost={preview.ghost} linked={linked} />
        </section>
      </div>
      <TakeGrid stroke={laidOut} linked={linked} />
    </>
  );
}
