import { expect, it } from 'vitest';
import type { Layer } from '../api/calls';
import { gapsOf } from './gaps';

const layers = (...ranges: [number, number][]) => ({ layers: ranges.map(([low, high]) => ({ low, high })) as Layer[] });

it('finds where nothing plays and where two do', () => {
  expect(gapsOf(layers([1, 127]))).toEqual([]);
  expect(gapsOf(layers([5, 60], [50, 100]))).toEqual([
    { low: 1, high: 4, overlap: false },
    { low: 50, high: 60, overlap: true },
    { low: 101, high: 127, overlap: false },
  ]);
  expect(gapsOf({ layers: [] })).toEqual([{ low: 1, high: 127, overlap: false }]);
});
