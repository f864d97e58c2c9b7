/** Sliders for trims, one row each, for one take or several. */
import { Fragment } from 'react';
import type { Edit, Take, TrimShown } from '../../api/calls';
import { Slider } from '../../ui/Slider';
import { panName, signed } from '../kit/format';
import { useKit } from '../kit/kitStore';
import { rules } from '../kit/rules';

export type Trim = Omit<Extract<Edit, { kind: 'trim_takes' }>, 'kind' | 'articulation' | 'takes'>;
export type Trimmed = Exclude<keyof Trim, 'inverted' | 'enabled'>;

const UNITS: Record<TrimShown['unit'], (value: number, aroundZero: boolean) => string> = {
  dB: (v) => `${signed(v)} dB`,
  ct: (v) => `${signed(v, 0)} ct`,
  ms: (v, aroundZero) => `${aroundZero ? signed(v) : v.toFixed(v < 100 ? 1 : 0)} ms`,
  pan: panName,
  switch: String,
};

interface TrimSlidersProps {
  articulation: string;
  takes: Take[];
  /** By default all of them. */
  fields?: Trimmed[];
  /** Whose trims they are, for screen readers: “take 3-1”, “the selected takes”. */
  who: string;
  /** The length of the longest recording, in ms. */
  longest?: number;
}

export function TrimSliders({ articulation, takes, fields, who, longest = 5000 }: TrimSlidersProps) {
  const edit = useKit((s) => s.edit);
  const first = takes[0];
  if (!first) return null;
  const set = (field: Trimmed, value: number, gesture: string) => {
    const change: Trim = { [field]: field === 'end_ms' && value >= longest ? 0 : value };
    void edit({ kind: 'trim_takes', articulation: articulation, takes: takes.map((t) => t.id), ...change }, gesture);
  };
  const sliders = Object.keys(rules().trims).filter((name) => rules().trims[name]?.unit !== 'switch') as Trimmed[];
  return (fields ?? sliders).map((field) => {
    const trim = rules().trims[field];
    if (!trim) return null;
    const whole = field === 'end_ms';
    const valueAt = (take: Take) => take[field] ?? longest;
    const value = valueAt(first);
    const mixed = takes.some((take) => valueAt(take) !== value);
    const show = (v: number) =>
      mixed && v === value ? 'mixed' : whole && v >= longest ? 'to the end' : UNITS[trim.unit](v, trim.around_zero);
    return (
      <Fragment key={field}>
        <dt>{trim.name}</dt>
        <dd>
          <Slider
            label={`${trim.name} of ${who}`}
            value={value}
            min={trim.least}
            max={whole ? longest : trim.most}
            step={trim.step}
            page={trim.page}
            reset={whole ? longest : 0}
            tone={trim.around_zero ? 'pan' : 'plain'}
            late={!trim.at_once}
            show={show}
            onChange={(v, gesture) => set(field, v, gesture)}
          />
        </dd>
      </Fragment>
    );
  });
}
