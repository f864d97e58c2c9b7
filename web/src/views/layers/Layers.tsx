/** Layers: arrange an articulation's takes by velocity, place the boundaries, choose round robins. */
import { DndContext, type DragEndEvent, PointerSensor, pointerWithin, useSensor, useSensors } from '@dnd-kit/core';
import { memo, type ReactNode, useDeferredValue, useMemo, useState } from 'react';
import type { Articulation, Edit, KitState, Piece } from '../../api/calls';
import { FindingsHere } from '../../app/findings/Findings';
import { FromWhere } from '../../app/kit/FromWhere';
import { useKit } from '../../app/kit/kitStore';
import { lookedAt, useLookedAt } from '../../app/kit/place';
import { Shelf } from '../../app/shelf/Shelf';
import { ArticulationTabs } from './ArticulationTabs';
import { Dynamics } from './Dynamics';
import type { DropPlace } from './places';
import { usePreview } from './preview';
import { Strike } from './Strike';
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
 * The piece and articulation looked at, drawn at low priority. Drags are drawn first; a newly selected articulation
 * never waits.
 */
function useInTime() {
  const { piece, articulation } = useLookedAt();
  const now = useMemo(() => ({ piece, articulation }), [piece, articulation]);
  const later = useDeferredValue(now);
  const same = later.piece?.id === piece?.id && later.articulation?.id === articulation?.id;
  return { now, later: same ? later : now };
}

function LookedAt() {
  const { now, later } = useInTime();
  const { piece, articulation } = now;
  if (!piece) {
    return (
      <section className="grid grow place-content-center gap-1 text-center text-soft">
        <h1 className="text-ink">No pieces yet</h1>
        <p>Add recordings under Recordings and make pieces from them, or create an empty piece in the list.</p>
      </section>
    );
  }
  return (
    <>
      <ArticulationTabs key={piece.id} piece={later.piece ?? piece} articulation={later.articulation} />
      {articulation && articulation.takes.length > 0 ? (
        <ArticulationLayers
          articulation={articulation}
          later={later.articulation ?? articulation}
          laterPiece={later.piece ?? piece}
        />
      ) : (
        <section className="grid grow place-content-center gap-1 text-center text-soft">
          <h2 className="text-ink">
            {articulation ? `Nothing in ${articulation.name} yet` : `Nothing in ${piece.name} yet`}
          </h2>
          <p className="max-w-[420px]">
            Drop recordings on {piece.name} in the list of pieces
            {articulation ? ', or drag takes here from another articulation.' : '.'}
          </p>
        </section>
      )}
    </>
  );
}

function Beside() {
  const { piece, articulation } = useInTime().later;
  return (
    <aside
      className="grid grid-cols-[minmax(0,1fr)] content-start gap-4 overflow-y-auto border-l border-line bg-side p-3.5"
      aria-label="Selected take"
    >
      {piece && articulation && articulation.takes.length > 0 && (
        <TakeDetail piece={piece} articulation={articulation} />
      )}
      {piece && <FromWhere piece={piece.id} />}
      {piece && <FoundHere piece={piece.id} articulation={articulation?.id ?? null} />}
    </aside>
  );
}

const FoundHere = memo(function FoundHere({ piece, articulation }: { piece: string; articulation: string | null }) {
  return (
    <FindingsHere
      step="layers"
      belongs={({ where }) =>
        articulation
          ? where.articulation === articulation || (!where.articulation && where.piece === piece)
          : where.piece === piece
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

/** Takes dragged to other layers, other articulations, or the unused ones. */
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
  const { articulation } = lookedAt();
  if (!place || !articulation) return;
  const selected = selectedOf(articulation).takes;
  const made = editOfDrop(articulation, selected.includes(take) ? selected : [take], place);
  if (made) void useKit.getState().edit(made);
}

/** The edit for a drop: on a take swaps the two, beside one inserts, on an articulation's name moves there. */
function editOfDrop(articulation: Articulation, takes: string[], place: DropPlace): Edit | null {
  const [take] = takes;
  if (place.kind === 'articulation') {
    return place.articulation === articulation.id
      ? null
      : { kind: 'move_takes', articulation: articulation.id, takes, layer: null, to: place.articulation };
  }
  if (place.kind === 'unused') return { kind: 'move_takes', articulation: articulation.id, takes, layer: null };
  const there = articulation.layers[place.layer]?.takes[place.place];
  if (place.kind === 'take' && there && takes.length === 1 && take) {
    const placed = articulation.layers.some((layer) => layer.takes.includes(take));
    if (there === take) return null;
    if (placed) return { kind: 'swap_takes', articulation: articulation.id, take, other: there };
  }
  return { kind: 'move_takes', articulation: articulation.id, takes, layer: place.layer, place: place.place };
}

interface ArticulationLayersProps {
  articulation: Articulation;
  /** The articulation and its piece, at low priority. */
  later: Articulation;
  laterPiece: Piece;
}

function ArticulationLayers({ articulation, later, laterPiece }: ArticulationLayersProps) {
  const version = useKit((s) => (s.kit as KitState).version);
  const [linked, setLinked] = useState(true);
  const preview = usePreview(articulation, version);
  return (
    <>
      <div className="grid shrink-0 grid-cols-[252px_minmax(0,1fr)] gap-3 max-[1180px]:grid-cols-[190px_minmax(0,1fr)]">
        <Strike key={articulation.id} piece={laterPiece} articulation={later} />
        <section className="card flex min-w-0 flex-col" aria-label="Dynamics">
          <Tools articulation={articulation} linked={linked} onLinked={setLinked} preview={preview} />
          <Dynamics key={articulation.id} articulation={articulation} ghost={preview.ghost} linked={linked} />
        </section>
      </div>
      <TakeGrid articulation={later} linked={linked} />
    </>
  );
}
