/** What somebody said that columns mean, as it is sent. */
import type { Guidance } from '../../api/calls';

export type Meaning = Guidance['rulings'][number]['meaning'];

/** What was said, with what is said now of some columns. */
export function ruled(guidance: Guidance, places: [string, number][], meaning: Meaning | null): Guidance {
  const others = guidance.rulings.filter((r) => !places.some(([key, at]) => r.group === key && r.column === at));
  const said = meaning ? places.map(([group, column]) => ({ group, column, meaning })) : [];
  return { ...guidance, words: [], rulings: [...others, ...said] };
}
