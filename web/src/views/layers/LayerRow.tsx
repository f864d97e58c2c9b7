/** One layer: its velocities, round robin, level spread and similarity, with its takes side by side. */

import { MoreHorizontal } from 'lucide-react';
import { memo } from 'react';
import type { Articulation, Layer } from '../../api/calls';
import { useKit } from '../../app/kit/kitStore';
import { limitsOf, rules } from '../../app/kit/rules';
import { Actions } from '../../ui/Actions';
import { layerColour } from '../../ui/colours';
import { Pick } from '../../ui/Pick';
import { Typed } from '../../ui/Typed';
import { ORDERS } from './orders';
import { useSelection } from './selection';
import { Cell, Empty } from './TakeCell';

export const COLUMNS =
  'grid grid-cols-[112px_104px_76px_60px_minmax(0,1fr)] max-[1180px]:grid-cols-[110px_84px_70px_54px_minmax(0,1fr)] items-center gap-2';

interface RowProps {
  articulation: Articulation;
  layer: Layer;
  number: number;
  most: number;
  linked: boolean;
  alike: number | null;
  was: number | null;
  chosen: boolean;
  selected: string[];
}

export const LayerRow = memo(LayerRowOf, sameRow);

function LayerRowOf(props: RowProps) {
  const { articulation, layer, number, most, linked, selected } = props;
  const edit = useKit((s) => s.edit);
  const say = useKit((s) => s.say);
  const byId = new Map(articulation.takes.map((take) => [take.id, take]));
  const { apart, twice, narrow } = layer;
  const type = (low: number, high: number) => {
    const { least, most } = limitsOf('layer.low');
    if ([low, high].some((velocity) => velocity < least || velocity > most))
      return say(`A velocity lies between ${least} and ${most}.`);
    void edit({ kind: 'set_range', articulation: articulation.id, layer: number, low, high, linked });
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
          onClick={() => useSelection.getState().chooseLayer(articulation.id, props.chosen ? null : number)}
          className="grid h-6 w-6 shrink-0 place-items-center"
        >
          <span
            className="block h-6 w-3.5 rounded"
            style={{ background: layerColour(number, articulation.layers.length) }}
          />
        </button>
        <span
          className={`flex items-center ${wrong || narrow ? 'text-amber' : ''}`}
          title={twice ? 'Overlaps its neighbour' : apart ? 'A gap beside it' : narrow ? 'A narrow layer' : undefined}
        >
          <Typed label={`Layer ${number + 1} from`} value={layer.low} onType={(low) => type(low, layer.high)} />–
          <Typed label={`Layer ${number + 1} to`} value={layer.high} onType={(high) => type(layer.low, high)} />
          {(wrong || narrow) && <b aria-hidden="true">!</b>}
        </span>
        <span className="grow" />
        <Actions
          label={`More for layer ${number + 1}`}
          className="grid size-6 shrink-0 place-items-center rounded text-faint hover:bg-sunk"
          actions={[
            {
              name: 'Match take levels',
              onChoose: () => void edit({ kind: 'match_take_levels', articulation: articulation.id, layer: number }),
            },
            {
              name: 'Split by loudness',
              disabled: layer.takes.length < 2,
              onChoose: () => void edit({ kind: 'split_layer', articulation: articulation.id, layer: number }),
            },
            {
              name: 'Add a layer above',
              onChoose: () => void edit({ kind: 'add_layer', articulation: articulation.id, above: number }),
            },
            {
              name: 'Merge with the one above',
              disabled: number === articulation.layers.length - 1,
              onChoose: () => void edit({ kind: 'merge_layers', articulation: articulation.id, layer: number }),
            },
            {
              name: 'Delete layer; its takes become unused',
              disabled: articulation.layers.length < 2,
              onChoose: () => void edit({ kind: 'remove_layer', articulation: articulation.id, layer: number }),
            },
          ]}
        >
          <MoreHorizontal size={14} />
        </Actions>
      </span>
      <Pick
        label={`Round robin of layer ${number + 1}`}
        value={layer.order}
        options={ORDERS}
        onChange={(order) => void edit({ kind: 'set_order', articulation: articulation.id, layer: number, order })}
        className="border-transparent bg-transparent px-1"
      />
      <span className={`num ${layer.spread_wide ? 'font-bold text-amber' : ''}`}>{layer.spread_db.toFixed(1)} dB</span>
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
              articulation={articulation}
              take={take}
              layer={number}
              place={column}
              away={layer.away_db[column] ?? null}
              far={layer.stands_out.includes(take.id)}
              selected={selected.includes(take.id)}
            />
          );
        })}
      </span>
    </div>
  );
}

/** A row is redrawn for changes of its own layer, its neighbours' limits and its takes only. */
function sameRow(a: RowProps, b: RowProps): boolean {
  const { articulation: was, ...before } = a;
  const { articulation: is, ...after } = b;
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
      className={`num ${now > rules().machine_like ? 'font-bold text-amber' : ''}`}
      title={`Consecutive strikes are ${Math.round(now * 100)} % similar${changed ? `; before, ${Math.round((was as number) * 100)} %` : ''}`}
    >
      {now.toFixed(2)}
      {changed && (now < was ? <span className="text-leaf"> ↓</span> : <span className="text-amber"> ↑</span>)}
    </span>
  );
}
