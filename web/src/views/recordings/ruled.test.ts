/** What is said of columns replaces what was said of the same ones, and leaves the rest. */
import { describe, expect, it } from 'vitest';
import type { Guidance } from '../../api/calls';
import { ruled } from './ruled';

const guidance = {
  rulings: [
    { group: 'a', column: 0, meaning: 'piece' },
    { group: 'a', column: 1, meaning: 'repeat' },
    { group: 'b', column: 1, meaning: 'strength' },
  ],
  words: [{ word: 'zork', meaning: 'piece', value: 'Tom' }],
  apart: ['notes.txt'],
} as unknown as Guidance;

describe('a ruling', () => {
  it('goes to the place of the one before, in every kind of names it is said of', () => {
    const said = ruled(
      guidance,
      [
        ['a', 1],
        ['b', 0],
      ],
      'strength',
    );
    expect(said.rulings).toEqual([
      { group: 'a', column: 0, meaning: 'piece' },
      { group: 'b', column: 1, meaning: 'strength' },
      { group: 'a', column: 1, meaning: 'strength' },
      { group: 'b', column: 0, meaning: 'strength' },
    ]);
    expect(said.apart).toEqual(['notes.txt']);
  });

  it('that is taken back leaves the column to be read by itself, and sends no words again', () => {
    const said = ruled(guidance, [['b', 1]], null);
    expect(said.rulings.map((r) => [r.group, r.column])).toEqual([
      ['a', 0],
      ['a', 1],
    ]);
    expect(said.words).toEqual([]);
  });
});
