/** A treatment's values as short sliders: heard while dragged, saved on release. */
import { limitsOf } from '../../../app/kit/rules';
import { byRatio } from '../../../ui/byRatio';
import { Slider } from '../../../ui/Slider';

/** One value: its name, steps and format. Its range comes from the core. */
export interface ValueField<T> {
  field: keyof T & string;
  name: string;
  label: string;
  step: number;
  page: number;
  show: (value: number) => string;
  /** What it does, in a sentence. */
  hint?: string;
  /** A logarithmic track. */
  ratio?: true;
  /** At its minimum it is off and shows no value. */
  orNone?: true;
  /** Its range is symmetrical around zero. */
  bothWays?: true;
}

interface ValuesProps<T> {
  /** The name under which the core gives the limits. */
  limits: string;
  values: readonly ValueField<T>[];
  now: T;
  usual: T;
  onTurn: (part: Partial<T>) => void;
  onKeep: (gesture: string) => void;
}

export function Values<T>({ limits, values, now, usual, onTurn, onKeep }: ValuesProps<T>) {
  return values.map(({ field, name, label, step, page, show, ratio, orNone, bothWays, hint }) => {
    const { least, most } = limitsOf(`${limits}.${field}`);
    const figure = (of: T) => (of[field] as number | null) ?? least;
    const turn = (value: number) => onTurn({ [field]: orNone && value <= least ? null : value } as Partial<T>);
    return (
      <Slider
        key={field}
        name={name}
        label={label}
        {...(hint ? { hint } : {})}
        value={figure(now)}
        min={least}
        max={most}
        step={step}
        page={page}
        reset={figure(usual)}
        show={show}
        {...(ratio ? { place: byRatio(least, most) } : {})}
        {...(bothWays ? { tone: 'pan' as const } : {})}
        late
        onTurn={turn}
        onChange={(value, gesture) => {
          turn(value);
          onKeep(gesture);
        }}
      />
    );
  });
}
