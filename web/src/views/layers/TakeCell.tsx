/** One take in its layer, with drop targets beside it; and the unused takes. */

import { useDraggable, useDroppable } from '@dnd-kit/core';
import type { Articulation, Take } from '../../api/calls';
import { signed } from '../../app/kit/format';
import { articulationIn, useKit } from '../../app/kit/kitStore';
import { usePlace } from '../../app/kit/place';
import { useHitAt } from '../../app/playing/strikes';
import { layerColour } from '../../ui/colours';
import { Outline } from '../../ui/Outline';
import type { DropPlace } from './places';
import { pressTake, tabStop, useSelection } from './selection';

/** A drop target at the left edge of a cell. */
function Before({ layer, place }: { layer: number; place: number }) {
  const data: DropPlace = { kind: 'before', layer, place };
  const { setNodeRef, isOver } = useDroppable({ id: `before ${layer} ${place}`, data });
  return (
    <i
      ref={setNodeRef}
      data-over={isOver}
      className={`pointer-events-none absolute inset-y-0 -left-[3px] z-10 w-[14px] ${isOver ? 'border-l-[3px] border-plum' : ''}`}
    />
  );
}

export function Empty({ layer, place, last }: { layer: number; place: number; last: boolean }) {
  const data: DropPlace = { kind: 'take', layer, place };
  const { setNodeRef, isOver } = useDroppable({ id: `take ${layer} ${place}`, data });
  return (
    <span
      ref={setNodeRef}
      data-over={isOver}
      title={last ? 'Drop a take here' : 'No take here'}
      className={`mx-[2px] h-[28px] rounded-md ${last && !isOver ? 'opacity-0' : 'hatch'} ${isOver ? 'outline-2 outline-plum outline-solid' : ''}`}
    />
  );
}

interface CellProps {
  articulation: Articulation;
  take: Take;
  layer: number | null;
  place: number;
  /** How far it is from its layer's level in dB, and whether that is too far. */
  away: number | null;
  far: boolean;
  selected: boolean;
}

export function Cell({ articulation, take, layer, place, away, far, selected }: CellProps) {
  const hitAt = useHitAt(articulation.id, take.id);
  const player = useKit((s) => s.player);
  const lookAt = usePlace((s) => s.lookAt);
  const drag = useDraggable({ id: `take ${take.id}`, data: { take: take.id } });
  const data: DropPlace = layer === null ? { kind: 'unused' } : { kind: 'take', layer, place };
  const drop = useDroppable({ id: layer === null ? `unused ${take.id}` : `take ${layer} ${place}`, data });
  const stop = useSelection((s) => tabStop(articulation, s.stop) === take.id);
  const sounded = hitAt !== null;
  const outline = drop.isOver
    ? 'outline-2 outline-plum outline-dashed'
    : sounded
      ? 'outline-[2.5px] outline-plum outline-solid'
      : selected
        ? 'outline-2 outline-ink outline-solid'
        : far
          ? 'outline-[1.5px] outline-amber-line outline-solid'
          : '';
  return (
    <span className="relative">
      {layer !== null && <Before layer={layer} place={place} />}
      <button
        ref={(node) => {
          drag.setNodeRef(node);
          drop.setNodeRef(node);
        }}
        {...drag.listeners}
        type="button"
        data-take={take.id}
        data-over={drop.isOver}
        data-hit={hitAt ?? undefined}
        tabIndex={stop ? 0 : -1}
        onFocus={() => useSelection.setState({ stop: take.id })}
        aria-pressed={selected}
        title={`${take.file}\nDrag to move it; Ctrl or Shift select several; Delete disables it`}
        onClick={(event) => {
          // Rows that were not redrawn hold an older version of the articulation.
          const now = articulationIn(useKit.getState().pieces, articulation.id)?.articulation ?? articulation;
          pressTake(now, take.id, { join: event.ctrlKey || event.metaKey, range: event.shiftKey });
          lookAt({ articulation: articulation.id, take: take.id });
          player?.audition(articulation.id, take.id);
        }}
        style={
          drag.transform
            ? { transform: `translate(${drag.transform.x}px, ${drag.transform.y}px)`, zIndex: 40, opacity: 0.85 }
            : undefined
        }
        className={`relative mx-[2px] block h-[28px] w-[calc(100%-4px)] touch-none overflow-hidden rounded-md bg-sunk ${
          take.enabled ? '' : 'opacity-40'
        } ${outline}`}
      >
        <span className="absolute top-0 left-0">
          <Outline
            outline={take.outline}
            width={84}
            height={28}
            colour={layerColour(Math.max(1, layer ?? 1), articulation.layers.length)}
          />
        </span>
        {take.trimmed && <i className="absolute bottom-0.5 left-1 h-1.5 w-1.5 rounded-full bg-leaf" title="Trimmed" />}
        <span className="sr-only">
          {`Take ${take.label}${take.enabled ? '' : ', disabled'}${far ? ', stands out' : ''}${sounded ? ', just sounded' : ''}${
            away === null ? '' : `, ${signed(away)} dB from its layer`
          }`}
        </span>
        <span
          aria-hidden="true"
          className={`num absolute top-0 right-0 rounded-bl bg-sunk pr-1 pl-0.5 text-[11.5px] leading-[14px] ${far ? 'font-bold text-amber' : 'text-soft'}`}
        >
          {!take.enabled ? 'out' : away === null ? take.label : signed(away)}
        </span>
      </button>
    </span>
  );
}

/** Unused takes, and a drop target for them. */
export function UnusedTakes({
  articulation,
  takes,
  selected,
}: {
  articulation: Articulation;
  takes: Take[];
  selected: string[];
}) {
  const data: DropPlace = { kind: 'unused' };
  const { setNodeRef, isOver, active } = useDroppable({ id: 'unused', data });
  if (!takes.length && !active) return null;
  return (
    <div
      ref={setNodeRef}
      data-over={isOver}
      data-testid="unused-takes"
      className={`flex min-h-[36px] flex-wrap items-center gap-1 rounded-[9px] border border-dashed px-2.5 py-1 ${
        isOver ? 'border-plum bg-plum-wash' : 'border-edge'
      }`}
    >
      <span className="mr-2 text-small text-soft">
        {takes.length ? 'Unused takes' : 'Drop takes here to leave them unused'}
      </span>
      {takes.map((take) => (
        <span key={take.id} className="w-[84px]">
          <Cell
            articulation={articulation}
            take={take}
            layer={null}
            place={0}
            away={null}
            far={false}
            selected={selected.includes(take.id)}
          />
        </span>
      ))}
    </div>
  );
}
