/** Sliders for how takes play: one row a trim, for one take or for many at once. */
import { Fragment } from 'react';
import type { Edit, Take } from '../../api/calls';
import { Slider } from '../../ui/Slider';
import { panName, signed } from '../kit/format';
import { useKit } from '../kit/kitStore';
import { rules } from '../kit/rules';

export type Trim = Omit<Extract<Edit, { kind: 'trim_takes' }>, 'kind' | 'articulation' | 'takes'>;
export type Trimmed = 'start_trim_ms' | 'end_ms' | 'fade_in_ms' | 'fade_out_ms' | 'gain_db' | 'pan' | 'tune_cents';

interface Kind {
  name: string;
  step: number;
  page: number;
  both?: boolean;
  /** Sounds are made anew for it: it is sent when it is let go of. */
  late: boolean;
  show: (value: number) => string;
}

const ms = (value: number) => `${value.toFixed(value < 100 ? 1 : 0)} ms`;

const KINDS: Record<Trimmed, Kind> = {
  start_trim_ms: {
    name: 'Start',
    step: 0.02,
    page: 0.2,
    both: true,
    late: true,
    show: (v) => `${signed(v)} ms`,
  },
  end_ms: { name: 'Plays for', step: 1, page: 10, late: true, show: ms },
  fade_in_ms: { name: 'Fade in', step: 0.1, page: 1, late: true, show: ms },
  fade_out_ms: { name: 'Fade out', step: 1, page: 10, late: true, show: ms },
  gain_db: {
    name: 'Level',
    step: 0.1,
    page: 1,
    both: true,
    late: false,
    show: (v) => `${signed(v)} dB`,
  },
  pan: { name: 'Pan', step: 0.01, page: 0.1, both: true, late: true, show: panName },
  tune_cents: {
    name: 'Tune',
    step: 1,
    page: 100,
    both: true,
    late: true,
    show: (v) => `${signed(v, 0)} ct`,
  },
};

interface TrimSlidersProps {
  stroke: string;
  takes: Take[];
  fields: Trimmed[];
  /** Whose they are, for those who hear the page: “take 3-1”, “the selected takes”. */
  who: string;
  /** How long the longest of the recordings plays, in ms. */
  longest?: number;
}

export function TrimSliders({ stroke, takes, fields, who, longest = 5000 }: TrimSlidersProps) {
  const edit = useKit((s) => s.edit);
  const first = takes[0];
  if (!first) return null;
  const set = (field: Trimmed, value: number, gesture: string) => {
    const change: Trim = { [field]: field === 'end_ms' && value >= longest ? 0 : value };
    void edit({ kind: 'trim_takes', articulation: stroke, takes: takes.map((t) => t.id), ...change }, gesture);
  };
  return fields.map((field) => {
    const kind = KINDS[field];
    const whole = field === 'end_ms';
    const valueAt = (take: Take) => take[field] ?? longest;
    const value = valueAt(first);
    const mixed = takes.some((take) => valueAt(take) !== value);
    const show = (v: number) => (mixed && v === value ? 'mixed' : whole && v >= longest ? 'all of it' : kind.show(v));
    return (
      <Fragment key={field}>
        <dt>{kind.name}</dt>
        <dd>
          <Slider
            label={`${kind.name} of ${who}`}
            value={value}
            min={rules().trims[field]?.least ?? 0}
            max={whole ? longest : (rules().trims[field]?.most ?? 0)}
            step={kind.step}
            page={kind.page}
            reset={whole ? longest : 0}
            tone={kind.both ? 'pan' : 'plain'}
            late={kind.late}
            show={show}
            onChange={(v, gesture) => set(field, v, gesture)}
          />
        </dd>
      </Fragment>
    );
  });
}
