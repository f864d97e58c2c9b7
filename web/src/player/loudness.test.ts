/** What the loudness of a channel is added up from: weighted powers in steps, input by input, and three seconds of them. */
import { expect, it, vi } from 'vitest';

vi.mock('./loudness.worklet.ts?worker&url', () => ({ default: 'loudness.js' }));

const RATE = 48_000;
interface Processor {
  port: { onmessage: ((event: unknown) => void) | null };
  process: (inputs: Float32Array[][]) => boolean;
}
const told: number[][] = [];
let made: new (options: unknown) => Processor;
vi.stubGlobal('sampleRate', RATE);
vi.stubGlobal(
  'AudioWorkletProcessor',
  class {
    port = { postMessage: (said: number[]) => told.push(said), onmessage: null };
  },
);
vi.stubGlobal('registerProcessor', (_: string, processor: typeof made) => {
  made = processor;
});
await import('./loudness.worklet');
const { LastSeconds } = await import('./loudness');

const FLAT = [[1, 0, 0, 1, 0, 0]];
/** The mean of two frames, and twice that, written by a first coefficient that is not one. */
const HALVES = [
  [1, 1, 0, 2, 0, 0],
  [4, 0, 0, 2, 0, 0],
];

it('weighs by one section after another, and goes on where nothing comes any more', () => {
  const processor = new made({ processorOptions: { inputs: 1, sections: HALVES } });
  const block = new Float32Array(128);
  [block[0], block[127]] = [1, 0.5];
  // Frames of 1, 1, and 0.5: the other half of the last is heard in the next block.
  processor.process([[block]]);
  processor.process([[]]);
  for (let silent = 2; silent < 38; silent += 1) processor.process([[]]);
  expect(told.splice(0)).toEqual([[(1 + 1 + 0.25 + 0.25) / (38 * 128)]]);
});

it('adds the power of every side, input by input, until it is told to end', () => {
  const processor = new made({ processorOptions: { inputs: 2, sections: FLAT } });
  const tone = (block: number) =>
    Float32Array.from({ length: 128 }, (_, i) => Math.sin((2 * Math.PI * 1125 * (128 * block + i)) / RATE));
  for (let block = 0; block < 120; block += 1) {
    expect(processor.process([[tone(block)], [tone(block), tone(block)]])).toBe(true);
  }
  expect(told).toHaveLength(3);
  for (const [one, two] of told as [number, number][]) {
    expect(one).toBeCloseTo(0.5, 6);
    expect(two).toBeCloseTo(2 * one, 9);
  }
  processor.process([[], []]);
  processor.port.onmessage?.({});
  expect(processor.process([[], []])).toBe(false);
});

it('is the mean of three seconds, what was not heard yet being silence, and none for silence', () => {
  const last = new LastSeconds();
  expect(last.db).toBeNull();
  for (let k = 0; k < 40; k += 1) last.add(0.5);
  expect(last.db).toBeCloseTo(-0.691 + 10 * Math.log10(0.5), 9);
  for (let k = 0; k < 29; k += 1) last.add(0);
  expect(last.db).toBeCloseTo(-0.691 + 10 * Math.log10(0.5 / 30), 9);
  last.add(0);
  expect(last.db).toBeNull();
});
