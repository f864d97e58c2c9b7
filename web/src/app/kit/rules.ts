/** What the core holds for every kit, told once at the start: limits, families, fades, what counts as alike. */
import type { Rules } from '../../api/calls';

let told: Rules | null = null;

export const takeRules = (rules: Rules) => {
  told = rules;
};

/** Nothing is drawn before they are here. */
export function rules(): Rules {
  if (!told) throw new Error('The rules of the studio were not asked for.');
  return told;
}

/** The ends of a value's field, `choke.fade_ms` and so on. */
export function limitsOf(field: string): { least: number; most: number } {
  const { least, most } = rules().limits[field] ?? {};
  return { least: least ?? Number.NEGATIVE_INFINITY, most: most ?? Number.POSITIVE_INFINITY };
}

/** A figure that was typed, brought into the field's ends. */
export function within(field: string, value: number): number {
  const { least, most } = limitsOf(field);
  return Math.max(least, Math.min(most, value));
}
