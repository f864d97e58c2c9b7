/** The values of a treatment as short sliders: heard while they are dragged, kept when they are let go. */
import { limitsOf } from '../../../app/kit/rules';
import { byRatio } from '../../../ui/byRatio';
import { Slider } from '../../../ui/Slider';

/** One value: what it is called, how it is stepped and shown. How far it goes is the core's. */
export interface ValueOf<T> {
  field: keyof T & string;
  name: string;
  label: string;
  step: number;
  page: number;
  show: (value: number) => string;
  /** Equal steps on its track are equal ratios. */
  ratio?: true;
  /** At its least it is switched off and holds nothing. */
  orNone?: true;
  /** It goes to both sides of nothing. */
  bothWays?: true;
}

interface ValuesProps<T> {
  /** The name of what they belong to, among the limits the core tells. */
  limits: string;
  values: readonly ValueOf<T>[];
  now: T;
  usual: T;
  onTurn: (part: Partial<T>) => void;
  onKeep: (gesture: string) => void;
}

export function Values<T>({ limits, values, now, usual, onTurn, onKeep }: ValuesProps<T>) {
  return values.map(({ field, name, label, step, page, show, ratio, orNone, bothWays }) => {
    const { least, most } = limitsOf(`${limits}.${field}`);
    const figure = (of: T) => (of[field] as number | null) ?? least;
    const turn = (value: number) => onTurn({ [field]: orNone && value <= least ? null : value } as Partial<T>);
    return (
      <Slider
        key={field}
        name={name}
        label={label}
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
