import { describe, expect, it } from 'vitest';
import { placesOn } from './leaving';

const outputs = [
  { number: 1, width: 'stereo' as const },
  { number: 2, width: 'stereo' as const },
  { number: 3, width: 'mono' as const },
  { number: 4, width: 'stereo' as const },
];

describe('where outputs leave', () => {
  it('is nowhere of their own where there are two channels', () => {
    expect([...placesOn(outputs, 2)]).toEqual([]);
  });

  it('is one behind another, as many as fit whole', () => {
    expect([...placesOn(outputs, 6)]).toEqual([
      [1, 0],
      [2, 2],
      [3, 4],
    ]);
    expect(placesOn(outputs, 7).get(4)).toBe(5);
  });
});
