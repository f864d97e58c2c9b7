/** The takes laid out: one row a layer, hardest on top, one cell a take; dragged, selected and heard where they lie. */
import { useDraggable, useDroppable } from '@dnd-kit/core';
import { useQuery } from '@tanstack/react-query';
import { MoreHorizontal } from 'lucide-react';
import { type KeyboardEvent, memo, useEffect, useRef } from 'react';
import { type Articulation, get, type KitState, type Layer, type Take } from '../../api/calls';
import { layerColour, signed } from '../../app/format';
import { articulationIn, useKit } from '../../app/kitStore';
import { usePlace } from '../../app/place';
import { useHitAt } from '../../app/strikes';
import { Actions } from '../../ui/Actions';
import { Outline } from '../../ui/Outline';
import { Pick } from '../../ui/Pick';
import { Typed } from '../../ui/Typed';
import { ORDERS } from './orders';
import { pressTake, takesInOrder, useSelected, useSelection } from './selection';

export type DropPlace =
  | { kind: 'take' | 'before'; layer: number; place: number }
  | { kind: 'aside' }
  | { kind: 'stroke'; stroke: string };

const COLUMNS =
  'grid grid-cols-[112px_104px_62px_56px_minmax(0,1fr)] max-[1180px]:grid-cols-[104px_88px_54px_44px_minmax(0,1fr)] items-center gap-2';
const FAR_DB = 3;

interface GridProps {
  stroke: Articulation;
  linked: boolean;
}

export const TakeGrid = memo(function TakeGrid({ stroke, linked }: GridProps) {
  const edit = useKit((s) => s.edit);
  const { takes: selected, layer: chosenLayer } = useSelected(stroke);
  const box = useRef<HTMLElement>(null);
  const alike = useSameness(stroke);
  const byId = new Map(stroke.takes.map((take) => [take.id, take]));
  const most = Math.max(...stroke.layers.map((layer) => layer.takes.length), 1);
  const orders = new Set(stroke.layers.map((l) => l.order));
  const placed = new Set(stroke.layers.flatMap((layer) => layer.takes));
  const aside = stroke.takes.filter((take) => !placed.has(take.id));

  // Rows stay where they are from stroke to stroke, and take on what the next one has; the list begins at its top.
  const rows = useRef<HTMLDivElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another stroke begins at the top
  useEffect(() => void rows.current?.scrollTo(0, 0), [stroke.id]);

  const focusTake = (id: string | undefined) =>
    id && box.current?.querySelector<HTMLElement>(`[data-take="${CSS.escape(id)}"]`)?.focus();
  const key = (event: KeyboardEvent) => {
    const id = (event.target as HTMLElement).dataset.take;
    if (!id) return;
    const layer = stroke.layers.findIndex((l) => l.takes.includes(id));
    const place = stroke.layers[layer]?.takes.indexOf(id) ?? -1;
    const mine = selected.includes(id) ? selected : [id];
    if ((event.ctrlKey || event.metaKey) && event.code === 'KeyA') {
      event.preventDefault();
      useSelection.getState().chooseTakes(stroke.id, takesInOrder(stroke), id);
    } else if (event.key === 'Delete' || event.key === 'Backspace') {
      event.preventDefault();
      const enabled = !byId.get(id)?.enabled;
      void edit({ kind: 'trim_takes', articulation: stroke.id, takes: mine, enabled });
    } else if (event.key.startsWith('Arrow') && layer >= 0) {
      event.preventDefault();
      event.stopPropagation();
      const up = { ArrowUp: 1, ArrowDown: -1 }[event.key] ?? 0;
      const along = { ArrowLeft: -1, ArrowRight: 1 }[event.key] ?? 0;
      if (event.altKey) {
        const to = layer + up;
        if (to < 0 || to >= stroke.layers.length) return;
        const at = up ? null : Math.max(0, place + (along > 0 ? 2 : -1));
        void edit({ kind: 'move_takes', articulation: stroke.id, takes: mine, layer: to, place: at }).then(() =>
          focusTake(id),
        );
      } else if (up) {
        const row = stroke.layers[layer + up]?.takes;
        focusTake(row?.[Math.min(place, row.length - 1)]);
      } else {
        const next = stroke.layers[layer]?.takes[place + along];
        focusTake(next);
        if (event.shiftKey && next) pressTake(stroke, next, { join: false, range: true });
      }
    }
  };
  return (
    <section ref={box} className="flex min-h-0 grow flex-col" aria-label="Takes by layer" onKeyDown={key}>
      <div className={`${COLUMNS} px-3 pb-1 text-tiny font-semibold text-faint`}>
        <span>Velocity</span>
        <span>Order</span>
        <span>Spread</span>
        <span title="How alike one strike is to the next, 1 for a machine">Alike</span>
        <span className="flex min-w-0 items-center justify-between gap-2">
          <span className="truncate">Takes, and how far each is from its layer in dB</span>
          <Pick
            label="Order of every layer"
            value={orders.size === 1 ? (stroke.layers[0]?.order ?? 'in_turn') : 'mixed'}
            options={[
              ...(orders.size === 1 ? [] : [{ value: 'mixed' as const, name: 'Mixed orders' }]),
              ...ORDERS.map((o) => ({ ...o, name: `Every layer: ${o.name.toLowerCase()}` })),
            ]}
            onChange={(order) =>
              order !== 'mixed' && void edit({ kind: 'set_order', articulation: stroke.id, layer: null, order })
            }
            className="py-0.5 text-tiny"
          />
        </span>
      </div>
      <div ref={rows} className="grid min-h-0 content-start gap-[5px] overflow-auto pb-2">
        {[...stroke.layers.keys()].reverse().map((number) => (
          <LayerRow
            key={number}
            stroke={stroke}
            layer={stroke.layers[number] as Layer}
            number={number}
            most={most}
            linked={linked}
            alike={alike?.layers[number] ?? null}
            was={alike?.was?.[number] ?? null}
            chosen={chosenLayer === number}
            selected={selected}
          />
        ))}
        <Aside stroke={stroke} takes={aside} selected={selected} />
      </div>
    </section>
  );
});

interface Alike {
  layers: (number | null)[];
  /** What they were before the last change, where that differs. */
  was: (number | null)[] | null;
}

/** How alike strikes are now, and before the last change of order, takes or trims. */
function useSameness(stroke: Articulation): Alike | null {
  const kit = useKit((s) => (s.kit as KitState).id);
  const what = JSON.stringify([
    stroke.layers.map((l) => [l.takes, l.order]),
    stroke.takes.map((t) => [t.enabled, t.tune_cents, t.start_trim_ms]),
    stroke.variation,
  ]);
  const before = useRef<{ stroke: string; now: (number | null)[]; was: (number | null)[] | null } | null>(null);
  const { data } = useQuery({
    queryKey: ['sameness', kit, stroke.id, what],
    queryFn: () => get('/api/kits/{kit_id}/sameness', { kit_id: kit, articulation: stroke.id }),
    staleTime: Number.POSITIVE_INFINITY,
    placeholderData: (last, query) => (query?.queryKey[2] === stroke.id ? last : undefined),
    retry: false,
  });
  useEffect(() => {
    if (!data || (before.current?.stroke === stroke.id && before.current.now === data.layers)) return;
    const was = before.current?.stroke === stroke.id ? before.current.now : null;
    before.current = { stroke: stroke.id, now: data.layers, was };
  }, [data, stroke.id]);
  if (!data) return null;
  const held = before.current?.stroke === stroke.id ? before.current : null;
  return { layers: data.layers, was: held?.now === data.layers ? held.was : (held?.now ?? null) };
}

interface RowProps {
  stroke: Articulation;
  layer: Layer;
  number: number;
  most: number;
  linked: boolean;
  alike: number | null;
  was: number | null;
  chosen: boolean;
  selected: string[];
}

const LayerRow = memo(LayerRowOf, sameRow);

function LayerRowOf(props: RowProps) {
  const { stroke, layer, number, most, linked, selected } = props;
  const edit = useKit((s) => s.edit);
  const say = useKit((s) => s.say);
  const articulation = stroke.id;
  const byId = new Map(stroke.takes.map((take) => [take.id, take]));
  const below = stroke.layers[number - 1];
  const above = stroke.layers[number + 1];
  const apart = (above && above.low > layer.high + 1) || (below && layer.low > below.high + 1);
  const twice = (above && above.low <= layer.high) || (below && layer.low <= below.high);
  const narrow = layer.high - layer.low + 1 < 4;
  const typeLow = (low: number) => {
    if (low < 1 || low > 127) return say('A velocity lies between 1 and 127.');
    if (linked && below) {
      void edit({
        kind: 'move_boundary',
        articulation,
        layer: number - 1,
        velocity: Math.max(1, low - 1),
        linked: true,
      });
    } else void edit({ kind: 'set_range', articulation, layer: number, low, high: layer.high });
  };
  const typeHigh = (velocity: number) => {
    if (velocity < 1 || velocity > 127) return say('A velocity lies between 1 and 127.');
    if (linked && above) void edit({ kind: 'move_boundary', articulation, layer: number, velocity, linked: true });
    else void edit({ kind: 'set_range', articulation, layer: number, low: layer.low, high: velocity });
  };
  const wrong = apart || twice;
  return (
    <div
      className={`${COLUMNS} min-h-[36px] rounded-[9px] border bg-card px-2.5 ${
        props.chosen ? 'border-ink' : wrong ? 'border-amber-line' : 'border-line'
      }`}
      data-layer={number}
    >
      <span className="flex items-center gap-1">
        <button
          type="button"
          aria-pressed={props.chosen}
          aria-label={`Layer ${number + 1}, its level and blend`}
          title={`Layer ${number + 1}: press for its level and blend`}
          onClick={() => useSelection.getState().chooseLayer(stroke.id, props.chosen ? null : number)}
          className="h-[24px] w-3.5 shrink-0 rounded"
          style={{ background: layerColour(number, stroke.layers.length) }}
        />
        <span
          className={`flex items-center ${wrong || narrow ? 'text-amber' : ''}`}
          title={twice ? 'Overlaps its neighbour' : apart ? 'A gap beside it' : narrow ? 'A narrow layer' : undefined}
        >
          <Typed label={`Layer ${number + 1} from`} value={layer.low} onType={typeLow} />–
          <Typed label={`Layer ${number + 1} to`} value={layer.high} onType={typeHigh} />
          {(wrong || narrow) && <b aria-hidden="true">!</b>}
        </span>
        <span className="grow" />
        <Actions
          label={`More for layer ${number + 1}`}
          className="rounded p-0.5 text-faint hover:bg-sunk"
          actions={[
            {
              name: 'Level its takes',
              onChoose: () => void edit({ kind: 'level_takes', articulation, layer: number }),
            },
            {
              name: 'Divide by loudness',
              disabled: layer.takes.length < 2,
              onChoose: () => void edit({ kind: 'divide_layer', articulation, layer: number }),
            },
            {
              name: 'Add a layer above',
              onChoose: () => void edit({ kind: 'add_layer', articulation, above: number }),
            },
            {
              name: 'Merge with the one above',
              disabled: !above,
              onChoose: () => void edit({ kind: 'merge_layers', articulation, layer: number }),
            },
            {
              name: 'Remove, takes aside',
              disabled: stroke.layers.length < 2,
              onChoose: () => void edit({ kind: 'remove_layer', articulation, layer: number }),
            },
          ]}
        >
          <MoreHorizontal size={14} />
        </Actions>
      </span>
      <Pick
        label={`Order of layer ${number + 1}`}
        value={layer.order}
        options={ORDERS}
        onChange={(order) => void edit({ kind: 'set_order', articulation, layer: number, order })}
        className="border-transparent bg-transparent px-1"
      />
      <span className={`num ${layer.spread_db > FAR_DB ? 'font-bold text-amber' : ''}`}>
        {layer.spread_db.toFixed(1)} dB
      </span>
      <Likeness now={props.alike} was={props.was} />
      <span
        className="grid gap-x-0.5 p-[3px]"
        style={{ gridTemplateColumns: `repeat(${most + 1}, minmax(50px, 88px))` }}
      >
        {Array.from({ length: most + 1 }, (_, column) => {
          const take = byId.get(layer.takes[column] ?? '');
          if (!take) return <Empty key={`none ${column}`} layer={number} place={column} last={column === most} />;
          return (
            <Cell
              key={take.id}
              stroke={stroke}
              take={take}
              layer={number}
              place={column}
              away={take.level_db - layer.level_db + layer.gain_db}
              selected={selected.includes(take.id)}
            />
          );
        })}
      </span>
    </div>
  );
}

/** A row shows its own layer, its neighbours' limits and the takes; what else an edit changed is not its business. */
function sameRow(a: RowProps, b: RowProps): boolean {
  const { stroke: was, ...before } = a;
  const { stroke: is, ...after } = b;
  return (
    was.id === is.id &&
    was.takes === is.takes &&
    was.layers.length === is.layers.length &&
    was.layers[a.number - 1] === is.layers[b.number - 1] &&
    was.layers[a.number + 1] === is.layers[b.number + 1] &&
    (Object.keys(after) as (keyof typeof after)[]).every((key) => before[key] === after[key])
  );
}

function Likeness({ now, was }: { now: number | null; was: number | null }) {
  if (now === null) return <span className="num text-faint">–</span>;
  const changed = was !== null && Math.abs(was - now) >= 0.005;
  return (
    <span
      className={`num ${now > 0.97 ? 'font-bold text-amber' : ''}`}
      title={`One strike is ${Math.round(now * 100)} % alike to the next${changed ? `; before, ${Math.round((was as number) * 100)} %` : ''}`}
    >
      {now.toFixed(2)}
      {changed && (now < was ? <span className="text-leaf"> ↓</span> : <span className="text-amber"> ↑</span>)}
    </span>
  );
}

/** Where a take can be put in: at the left edge of a cell. */
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

function Empty({ layer, place, last }: { layer: number; place: number; last: boolean }) {
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
  stroke: Articulation;
  take: Take;
  layer: number | null;
  place: number;
  away: number | null;
  selected: boolean;
}

export const isTrimmed = (take: Take) =>
  take.gain_db !== 0 ||
  take.pan !== 0 ||
  take.tune_cents !== 0 ||
  take.start_trim_ms !== 0 ||
  take.end_ms !== null ||
  take.fade_in_ms > 0 ||
  take.fade_out_ms > 0 ||
  take.inverted;

function Cell({ stroke, take, layer, place, away, selected }: CellProps) {
  const hitAt = useHitAt(stroke.id, take.id);
  const player = useKit((s) => s.player);
  const lookAt = usePlace((s) => s.lookAt);
  const drag = useDraggable({ id: `take ${take.id}`, data: { take: take.id } });
  const data: DropPlace = layer === null ? { kind: 'aside' } : { kind: 'take', layer, place };
  const drop = useDroppable({ id: layer === null ? `aside ${take.id}` : `take ${layer} ${place}`, data });
  const far = away !== null && Math.abs(away) > FAR_DB;
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
        aria-pressed={selected}
        aria-label={`Take ${take.label}${take.enabled ? '' : ', left out'}${far ? ', stands out' : ''}${sounded ? ', just sounded' : ''}`}
        title={`${take.file}\nDrag to move it; Ctrl or Shift select several; Delete leaves it out`}
        onClick={(event) => {
          // The rows that were left alone hold the stroke as it was when they were drawn.
          const now = articulationIn(useKit.getState().pieces, stroke.id)?.stroke ?? stroke;
          pressTake(now, take.id, { join: event.ctrlKey || event.metaKey, range: event.shiftKey });
          lookAt({ articulation: stroke.id, take: take.id });
          player?.audition(stroke.id, take.id);
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
            colour={layerColour(Math.max(1, layer ?? 1), stroke.layers.length)}
          />
        </span>
        {isTrimmed(take) && (
          <i className="absolute bottom-0.5 left-1 h-1.5 w-1.5 rounded-full bg-leaf" title="Trimmed" />
        )}
        <span
          className={`num absolute top-0 right-0 rounded-bl bg-sunk pr-1 pl-0.5 text-[11.5px] leading-[14px] ${far ? 'font-bold text-amber' : 'text-soft'}`}
        >
          {!take.enabled ? 'out' : away === null ? take.label : signed(away)}
        </span>
      </button>
    </span>
  );
}

/** Takes that lie in no layer, and where to put them. */
function Aside({ stroke, takes, selected }: { stroke: Articulation; takes: Take[]; selected: string[] }) {
  const data: DropPlace = { kind: 'aside' };
  const { setNodeRef, isOver, active } = useDroppable({ id: 'aside', data });
  if (!takes.length && !active) return null;
  return (
    <div
      ref={setNodeRef}
      data-over={isOver}
      data-testid="aside"
      className={`flex min-h-[36px] flex-wrap items-center gap-1 rounded-[9px] border border-dashed px-2.5 py-1 ${
        isOver ? 'border-plum bg-plum-wash' : 'border-edge'
      }`}
    >
      <span className="mr-2 text-small text-soft">{takes.length ? 'Aside, not played' : 'Drop here to put aside'}</span>
      {takes.map((take) => (
        <span key={take.id} className="w-[84px]">
          <Cell stroke={stroke} take={take} layer={null} place={0} away={null} selected={selected.includes(take.id)} />
        </span>
      ))}
    </div>
  );
}
