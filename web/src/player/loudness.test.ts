/** What the loudness of a channel is added up from: powers in steps, input by input, and three seconds of them. */
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

it('adds the power of every side, input by input, until it is told to end', () => {
  const processor = new made({ processorOptions: { inputs: 2 } });
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
