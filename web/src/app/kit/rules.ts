/** The core's rules for every kit, loaded at the start: limits, families, fades, thresholds. */
import type { Rules } from '../../api/calls';

let told: Rules | null = null;

export const takeRules = (rules: Rules) => {
  told = rules;
};

/** Nothing is drawn before they are loaded. */
export function rules(): Rules {
  if (!told) throw new Error('The rules of the studio were not asked for.');
  return told;
}

/** The limits of a field such as `choke.fade_ms`. */
export function limitsOf(field: string): { least: number; most: number } {
  const { least, most } = rules().limits[field] ?? {};
  return { least: least ?? Number.NEGATIVE_INFINITY, most: most ?? Number.POSITIVE_INFINITY };
}

/** A typed number, clamped to the field's limits. */
export function within(field: string, value: number): number {
  const { least, most } = limitsOf(field);
  return Math.max(least, Math.min(most, value));
}
