/** The user's corrections of columns, as they are sent. */
import type { Guidance } from '../../api/calls';

export type Meaning = Guidance['rulings'][number]['meaning'];

/** The corrections with new ones for some columns. */
export function ruled(guidance: Guidance, places: [string, number][], meaning: Meaning | null): Guidance {
  const others = guidance.rulings.filter((r) => !places.some(([key, at]) => r.group === key && r.column === at));
  const said = meaning ? places.map(([group, column]) => ({ group, column, meaning })) : [];
  return { ...guidance, words: [], rulings: [...others, ...said] };
}
