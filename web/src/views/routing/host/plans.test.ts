/** What is said of plans and outputs, and what of them is saved. */
import { describe, expect, it } from 'vitest';
import type { KitState } from '../../../api/calls';
import { freeRuns, sentTo } from '../outputs';
import { movedTo, outputsSaid, takesSaid } from './plans';

const output = (number: number, width: 'mono' | 'stereo' = 'stereo') => ({
  number,
  width,
  name: `Output ${number}`,
  called: '',
  track: '',
});
const channel = (id: string, part: object) => ({ id, name: id, bus: '', output: 0, side: 'both', ...part });

describe('a rule', () => {
  it('says what it takes', () => {
    expect(takesSaid({ track: 'Tom 2', families: ['tom'], number: 2, mics: ['close'] })).toBe(
      'tom, the 2nd, close microphones',
    );
    expect(takesSaid({ track: 'A', mics: ['overhead', 'room'] })).toBe('overhead and room microphones');
    expect(takesSaid({ track: 'B', pieces: ['Cowbell'], gathers: ['room'], buses: ['Crush'] })).toBe(
      'Cowbell, shared room, bus Crush',
    );
    expect([11, 21, 3].map((number) => takesSaid({ track: 'C', families: ['tom'], number }))).toEqual([
      'tom, the 11th',
      'tom, the 21st',
      'tom, the 3rd',
    ]);
  });

  it('moves among the others', () => {
    expect(movedTo(['a', 'b', 'c'], 2, 0)).toEqual(['c', 'a', 'b']);
    expect(movedTo(['a', 'b', 'c'], 0, 1)).toEqual(['b', 'a', 'c']);
  });
});

it('a host is told by its outputs', () => {
  const runs = [
    { width: 'stereo' as const, count: 4 },
    { width: 'mono' as const, count: 12 },
  ];
  expect(outputsSaid({ name: 'Skiff', runs })).toBe('4 stereo, 12 mono outputs');
});

describe('outputs', () => {
  const channels = [
    channel('kick', { output: 2, side: 'left' }),
    channel('snare', { output: 2, side: 'right' }),
    channel('hats', {}),
    channel('toms', { bus: 'crush', output: 0 }),
  ];
  const kit = { head: { channels, buses: [channel('crush', { output: 4 })] } } as unknown as KitState;

  it('say what goes straight to them, and to which side', () => {
    expect([...sentTo(kit)]).toEqual([
      [2, ['kick (left)', 'snare (right)']],
      [1, ['hats']],
      [4, ['crush']],
    ]);
  });

  it('are free in runs of one width; the first is main’s', () => {
    const outputs = [1, 2, 3, 4, 5, 6].map((n) => output(n)).concat([output(7, 'mono'), output(8, 'mono')]);
    const free = freeRuns(outputs, sentTo(kit)).map((run) => run.map(({ number }) => number));
    expect(free).toEqual([[3], [5, 6], [7, 8]]);
  });
});
