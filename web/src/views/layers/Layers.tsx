/** Layers: lay a stroke's takes out by strength, place the boundaries, choose how repeats alternate. */
import { DndContext, type DragEndEvent, PointerSensor, pointerWithin, useSensor, useSensors } from '@dnd-kit/core';
import { memo, type ReactNode, useDeferredValue, useMemo, useState } from 'react';
import type { Articulation, Edit, KitState, Piece } from '../../api/calls';
import { FindingsHere } from '../../app/findings/Findings';
import { FromWhere } from '../../app/kit/FromWhere';
import { useKit } from '../../app/kit/kitStore';
import { lookedAt, useLookedAt } from '../../app/kit/place';
import { Shelf } from '../../app/shelf/Shelf';
import { Dynamics } from './Dynamics';
import type { DropPlace } from './places';
import { usePreview } from './preview';
import { Strike } from './Strike';
import { StrokeTabs } from './StrokeTabs';
import { selectedOf } from './selection';
import { TakeDetail } from './TakeDetail';
import { TakeGrid } from './TakeGrid';
import { Tools } from './Tools';

export default function Layers() {
  return (
    <div className="panes grid min-h-0 grid-cols-[208px_minmax(0,1fr)_264px] max-[1180px]:grid-cols-[180px_minmax(0,1fr)_212px]">
      <Shelf />
      <Dragging>
        <main className="flex min-h-0 flex-col gap-2.5 overflow-hidden px-[18px] py-3">
          <LookedAt />
        </main>
      </Dragging>
      <Beside />
    </div>
  );
}

/**
 * The piece and articulation looked at, when there is time to draw them. What is dragged follows the hand at once and
 * is drawn first; what was chosen to be looked at never waits.
 */
function useInTime() {
  const { piece, stroke } = useLookedAt();
  const now = useMemo(() => ({ piece, stroke }), [piece, stroke]);
  const later = useDeferredValue(now);
  const same = later.piece?.id === piece?.id && later.stroke?.id === stroke?.id;
  return { now, later: same ? later : now };
}

function LookedAt() {
  const { now, later } = useInTime();
  const { piece, stroke } = now;
  if (!piece) {
    return (
      <section className="grid grow place-content-center gap-1 text-center text-soft">
        <h1 className="text-ink">No pieces yet</h1>
        <p>Bring recordings in under Recordings and make pieces of them, or make a piece on the shelf.</p>
      </section>
    );
  }
  return (
    <>
      <StrokeTabs key={piece.id} piece={later.piece ?? piece} stroke={later.stroke} />
      {stroke && stroke.takes.length > 0 ? (
        <StrokeLayers stroke={stroke} later={later.stroke ?? stroke} laterPiece={later.piece ?? piece} />
      ) : (
        <section className="grid grow place-content-center gap-1 text-center text-soft">
          <h2 className="text-ink">{stroke ? `Nothing in ${stroke.name} yet` : `Nothing in ${piece.name} yet`}</h2>
          <p className="max-w-[420px]">
            Drop recordings on {piece.name} on the shelf to add to it
            {stroke ? ', or drag takes here from another stroke.' : '.'}
          </p>
        </section>
      )}
    </>
  );
}

function Beside() {
  const { piece, stroke } = useInTime().later;
  return (
    <aside
      className="grid grid-cols-[minmax(0,1fr)] content-start gap-4 overflow-y-auto border-l border-line bg-side p-3.5"
      aria-label="Selected take"
    >
      {piece && stroke && stroke.takes.length > 0 && <TakeDetail piece={piece} stroke={stroke} />}
      {piece && <FromWhere piece={piece.id} />}
      {piece && <FoundHere piece={piece.id} stroke={stroke?.id ?? null} />}
    </aside>
  );
}

const FoundHere = memo(function FoundHere({ piece, stroke }: { piece: string; stroke: string | null }) {
  return (
    <FindingsHere
      step="layers"
      belongs={({ where }) =>
        stroke ? where.articulation === stroke || (!where.articulation && where.piece === piece) : where.piece === piece
      }
    />
  );
});

const ANNOUNCEMENTS = {
  onDragStart: () => 'Take picked up.',
  onDragOver: () => undefined,
  onDragEnd: ({ over }: { over: unknown }) => (over ? 'Take put down.' : 'Take left where it was.'),
  onDragCancel: () => 'Take left where it was.',
};

/** Takes dragged to other layers, to other articulations or aside. */
function Dragging({ children }: { children: ReactNode }) {
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 5 } }));
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={pointerWithin}
      onDragEnd={drop}
      accessibility={{ announcements: ANNOUNCEMENTS }}
    >
      {children}
    </DndContext>
  );
}

function drop(event: DragEndEvent) {
  const place = event.over?.data.current as DropPlace | undefined;
  const take = String(event.active.data.current?.take ?? '');
  const { stroke } = lookedAt();
  if (!place || !stroke) return;
  const selected = selectedOf(stroke).takes;
  const made = editOfDrop(stroke, selected.includes(take) ? selected : [take], place);
  if (made) void useKit.getState().edit(made);
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

interface StrokeLayersProps {
  stroke: Articulation;
  /** The stroke and its piece when there is time to draw them. */
  later: Articulation;
  laterPiece: Piece;
}

function StrokeLayers({ stroke, later, laterPiece }: StrokeLayersProps) {
  const version = useKit((s) => (s.kit as KitState).version);
  const [linked, setLinked] = useState(true);
  const preview = usePreview(stroke, version);
  return (
    <>
      <div className="grid shrink-0 grid-cols-[252px_minmax(0,1fr)] gap-3 max-[1180px]:grid-cols-[190px_minmax(0,1fr)]">
        <Strike key={stroke.id} piece={laterPiece} stroke={later} />
        <section className="card flex min-w-0 flex-col" aria-label="Dynamics">
          <Tools stroke={stroke} linked={linked} onLinked={setLinked} preview={preview} />
          <Dynamics key={stroke.id} stroke={stroke} ghost={preview.ghost} linked={linked} />
        </section>
      </div>
      <TakeGrid stroke={later} linked={linked} />
    </>
  );
}
