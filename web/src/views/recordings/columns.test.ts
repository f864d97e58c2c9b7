/** What is said of columns: a new word goes to the old one's place, here and where it also fits, and can be taken back. */
import { expect, it } from 'vitest';
import type { Guidance } from '../../api/calls';
import { ruled } from './ruled';

const said = (rulings: Guidance['rulings']): Guidance =>
  ({ rulings, words: [{ word: 'zork', meaning: 'mic', value: '' }], placed: [], apart: [] }) as unknown as Guidance;

it('is replaced where it was said, and stays elsewhere', () => {
  const before = said([
    { group: 'a', column: 1, meaning: 'repeat' },
    { group: 'a', column: 2, meaning: 'mic' },
  ]);
  const places: [string, number][] = [
    ['a', 1],
    ['b', 3],
  ];
  const after = ruled(before, places, 'strength');
  expect(after.rulings).toEqual([
    { group: 'a', column: 2, meaning: 'mic' },
    { group: 'a', column: 1, meaning: 'strength' },
    { group: 'b', column: 3, meaning: 'strength' },
  ]);
  expect(after.words).toEqual([]);
  expect(ruled(after, places, null).rulings).toEqual([{ group: 'a', column: 2, meaning: 'mic' }]);
});
