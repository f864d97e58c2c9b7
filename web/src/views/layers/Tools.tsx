/** Tools for all layers of an articulation: number of layers, ranges, levels, variation. */
import { useQuery } from '@tanstack/react-query';
import { ChevronDown } from 'lucide-react';
import { Fragment, memo } from 'react';
import { type Articulation, get, type KitState, type Variation } from '../../api/calls';
import { useKit } from '../../app/kit/kitStore';
import { Actions } from '../../ui/Actions';
import { Panel } from '../../ui/Panel';
import { Slider } from '../../ui/Slider';
import type { Preview } from './preview';

interface ToolsProps {
  articulation: Articulation;
  linked: boolean;
  onLinked: (linked: boolean) => void;
  preview: Preview;
}

export const Tools = memo(
  ToolsOf,
  (a, b) =>
    a.articulation.id === b.articulation.id &&
    a.articulation.takes === b.articulation.takes &&
    a.articulation.variation === b.articulation.variation &&
    a.articulation.layers.length === b.articulation.layers.length &&
    a.linked === b.linked &&
    a.preview.ghost === b.preview.ghost,
);

function ToolsOf({ articulation, linked, onLinked, preview }: ToolsProps) {
  const edit = useKit((s) => s.edit);
  if (preview.ghost) {
    return (
      <div className="flex min-h-[29px] flex-wrap items-center gap-2" role="status" data-testid="preview">
        <h2 className="grow">
          {preview.said} <span className="font-normal text-soft">the preview is drawn in green</span>
        </h2>
        <button type="button" className="btn btn-go" onClick={() => void preview.apply()}>
          Apply
        </button>
        <button type="button" className="btn" onClick={preview.leave}>
          Cancel
        </button>
      </div>
    );
  }
  return (
    <div className="flex min-h-[29px] flex-wrap items-center gap-1 [&_.btn]:gap-0.5 [&_.btn]:px-1.5 [&_.btn]:py-1">
      <h2 className="grow max-[1400px]:sr-only">Dynamics</h2>
      <label
        className="mr-0.5 flex items-center gap-1 text-small text-soft"
        title="Both layers move with their boundary; hold Alt to move one alone"
      >
        <input type="checkbox" checked={linked} onChange={(event) => onLinked(event.target.checked)} /> linked
      </label>
      <button
        type="button"
        className="btn btn-go"
        title="Set the layers’ velocity ranges by the measured loudness of their takes"
        onClick={() => void edit({ kind: 'split_by_loudness', articulation: articulation.id })}
      >
        Split by loudness
      </button>
      <Actions
        label="Other ways to split layers"
        actions={[
          { name: 'Split evenly', onChoose: () => void edit({ kind: 'split_evenly', articulation: articulation.id }) },
          { name: 'Close gaps', onChoose: () => void edit({ kind: 'close_gaps', articulation: articulation.id }) },
          { name: 'End overlaps', onChoose: () => void edit({ kind: 'end_overlaps', articulation: articulation.id }) },
          {
            name: 'Sort layers by loudness',
            onChoose: () => void edit({ kind: 'sort_layers', articulation: articulation.id }),
          },
        ]}
      >
        <ChevronDown size={13} aria-hidden="true" />
      </Actions>
      <LayerCount articulation={articulation} preview={preview} />
      <Actions
        label="Match levels"
        side="bottom end"
        actions={[
          {
            name: 'Match take levels in every layer',
            onChoose: () =>
              void preview.show('Match take levels', {
                kind: 'match_take_levels',
                articulation: articulation.id,
                layer: null,
              }),
          },
          {
            name: 'Even out layer levels',
            onChoose: () =>
              void preview.show('Even out layer levels', { kind: 'even_out_layers', articulation: articulation.id }),
          },
        ]}
      >
        Levels <ChevronDown size={13} aria-hidden="true" />
      </Actions>
      <Vary articulation={articulation} />
    </div>
  );
}

/** The number of layers, each choice with its goodness of fit. */
function LayerCount({ articulation, preview }: { articulation: Articulation; preview: Preview }) {
  const kit = useKit((s) => (s.kit as KitState).id);
  const levels = articulation.takes.map((take) => `${take.enabled}${take.level_db}`).join();
  const { data } = useQuery({
    queryKey: ['fits', kit, articulation.id, levels],
    queryFn: () => get('/api/kits/{kit_id}/fits', { kit_id: kit, articulation: articulation.id }),
    staleTime: Number.POSITIVE_INFINITY,
  });
  return (
    <Actions
      label={`${articulation.layers.length} ${articulation.layers.length === 1 ? 'layer' : 'layers'}: press to rebuild layers by loudness`}
      actions={(data?.fits ?? []).map((fit, at) => ({
        name: `${at + 1} ${at ? 'layers' : 'layer'}`,
        hint: `fits ${Math.round(fit * 100)} %`,
        onChoose: () =>
          void preview.show(`${at + 1} layers, fitting ${Math.round(fit * 100)} %`, {
            kind: 'make_layers',
            articulation: articulation.id,
            count: at + 1,
          }),
      }))}
    >
      {articulation.layers.length} {articulation.layers.length === 1 ? 'layer' : 'layers'}{' '}
      <ChevronDown size={13} aria-hidden="true" />
    </Actions>
  );
}

/** What may vary from strike to strike, and the largest values. */
const VARIES: {
  field: keyof Variation;
  name: string;
  label: string;
  max: number;
  step: number;
  late: boolean;
  show: (value: number) => string;
}[] = [
  {
    field: 'level_db',
    name: 'Level ±',
    label: 'Level varies by',
    max: 3,
    step: 0.1,
    late: false,
    show: (v) => `${v.toFixed(1)} dB`,
  },
  {
    field: 'tune_cents',
    name: 'Tuning ±',
    label: 'Tuning varies by',
    max: 25,
    step: 1,
    late: true,
    show: (v) => `${v} cents`,
  },
  {
    field: 'brightness',
    name: 'Brightness −',
    label: 'Brightness varies by',
    max: 3,
    step: 0.1,
    late: false,
    show: (v) => `${v.toFixed(1)} oct`,
  },
];

function Vary({ articulation }: { articulation: Articulation }) {
  const edit = useKit((s) => s.edit);
  const now = articulation.variation;
  const some = VARIES.some(({ field }) => now[field] > 0);
  return (
    <Panel
      label="Variation from strike to strike"
      buttonClass={`btn ${some ? 'border-leaf text-leaf' : ''}`}
      title="Small differences from strike to strike"
      button={
        <>
          {some ? 'Variation on' : 'Variation'} <ChevronDown size={13} aria-hidden="true" />
        </>
      }
      className="grid w-[330px] grid-cols-[auto_1fr] items-center gap-x-3 gap-y-1.5 p-3.5 text-small"
    >
      {() => (
        <>
          <p className="col-span-2 text-soft">Every strike differs a little, the same way in every render.</p>
          {VARIES.map(({ field, name, label, max, step, late, show }) => (
            <Fragment key={field}>
              <span>{name}</span>
              <Slider
                label={label}
                value={now[field]}
                min={0}
                max={max}
                step={step}
                reset={0}
                late={late}
                show={show}
                onChange={(value, gesture) =>
                  void edit(
                    { kind: 'set_variation', articulation: articulation.id, variation: { ...now, [field]: value } },
                    gesture,
                  )
                }
              />
            </Fragment>
          ))}
        </>
      )}
    </Panel>
  );
}
