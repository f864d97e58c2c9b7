import { describe, expect, it } from 'vitest';
import { nudged } from './nudging';

const range = { least: 1, most: 127, page: 8 };

describe('a nudged slider', () => {
  it.each([
    ['ArrowLeft', 63],
    ['ArrowDown', 63],
    ['ArrowRight', 65],
    ['ArrowUp', 65],
    ['PageDown', 56],
    ['PageUp', 72],
    ['Home', 1],
    ['End', 127],
  ])('goes by %s to %i', (key, to) => {
    expect(nudged(key, 64, range)).toBe(to);
  });

  it('goes by steps of its own size', () => {
    expect(nudged('ArrowUp', 0, { least: -24, most: 12, step: 0.5, page: 3 })).toBe(0.5);
  });

  it('stays within its ends, and leaves other keys alone', () => {
    expect([nudged('PageUp', 125, range), nudged('ArrowLeft', 1, range), nudged('a', 5, range)]).toEqual([
      127,
      1,
      null,
    ]);
  });
});
