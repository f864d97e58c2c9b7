/** A bus's space: its answer is asked for once, comes in over the one before, and is asked for again when nobody answered. */
import { beforeEach, expect, it, vi } from 'vitest';
import type { ImpulseResponses, PlaySpace } from './impulseResponses';

const lieDormant = vi.hoisted(() => vi.fn());
vi.mock('./dormant', () => ({ lieDormant }));

interface Fake {
  options: object;
  gain: { value: number; to: number[] };
  disconnected: boolean;
}
const made: { GainNode: Fake[]; ConvolverNode: Fake[] } = { GainNode: [], ConvolverNode: [] };
const fake = (name: keyof typeof made) =>
  class {
    gain;
    disconnected = false;
    constructor(
      _context: unknown,
      readonly options: { gain?: number },
    ) {
      const to: number[] = [];
      this.gain = {
        value: options.gain ?? 1,
        to,
        cancelScheduledValues: () => undefined,
        setValueAtTime: () => undefined,
        setTargetAtTime: (value: number) => to.push(value),
        linearRampToValueAtTime: (value: number) => to.push(value),
      };
      made[name].push(this as unknown as Fake);
    }
    connect<T>(node: T) {
      return node;
    }
    disconnect() {
      this.disconnected = true;
    }
  };
for (const name of ['GainNode', 'ConvolverNode'] as const) vi.stubGlobal(name, fake(name));
vi.stubGlobal(
  'AudioBuffer',
  class {
    sides: Float32Array[] = [];
    constructor(readonly options: { numberOfChannels: number; length: number; sampleRate: number }) {}
    copyToChannel(samples: Float32Array, side: number) {
      this.sides[side] = samples.slice();
    }
  },
);

const { Space } = await import('./space');
const { ImpulseResponses: Held, impulseResponseAddress, impulseResponseIn } = await import('./impulseResponses');

const context = { currentTime: 0, sampleRate: 48_000 } as unknown as BaseAudioContext;
const hall = (length_s: number) => ({ kind: 'hall', on: true, length_s }) as unknown as PlaySpace;
const convolvers = () => made.ConvolverNode;

/** An answer of two sides, as the studio sends it. */
function file(middle: number): ArrayBuffer {
  const whole = new ArrayBuffer(8 + 16);
  new DataView(whole).setUint32(0, 2, true);
  new DataView(whole).setUint32(4, middle, true);
  new Float32Array(whole, 8).set([1, 0.5, -1, 0.25]);
  return whole;
}

beforeEach(() => {
  Object.assign(made, { GainNode: [], ConvolverNode: [] });
});

it('is read as it was sent: sides one after the other, and how it is entered', () => {
  const { buffer, middle } = impulseResponseIn(context, file(1)) as unknown as {
    buffer: { sides: Float32Array[]; options: object };
    middle: boolean;
  };
  expect(middle).toBe(true);
  expect(buffer.options).toEqual({ numberOfChannels: 2, length: 2, sampleRate: 48_000 });
  expect(buffer.sides.map((side) => [...side])).toEqual([
    [1, 0.5],
    [-1, 0.25],
  ]);
  expect(impulseResponseIn(context, file(0)).middle).toBe(false);
});

it('is asked for once, by all it is made of, and not kept where it could not be had', async () => {
  const fetched = vi.fn(async () => new Response(file(1)));
  vi.stubGlobal('fetch', fetched);
  const answers = new Held(context);
  await answers.load(hall(1));
  await answers.load(hall(1));
  expect(fetched).toHaveBeenCalledExactlyOnceWith(impulseResponseAddress(hall(1), 48_000));
  expect(answers.known(hall(1))).toBeDefined();
  fetched.mockResolvedValueOnce(new Response('', { status: 503 }));
  await expect(answers.load(hall(2))).rejects.toThrow('503');
  expect(answers.known(hall(2))).toBeUndefined();
});

it('comes in over the one before, and lets sound pass where there is none', async () => {
  const known = new Map([
    [1, {}],
    [2, {}],
  ]);
  const answers = { known: (space: { length_s: number }) => known.get(space.length_s), load: vi.fn() };
  const space = new Space(context, answers as unknown as ImpulseResponses);
  const [, , past] = made.GainNode;
  space.set(hall(1), true);
  expect(past?.gain.value).toBe(0);
  expect(convolvers()).toHaveLength(1);
  expect(convolvers()[0]?.options).toMatchObject({ disableNormalization: true });
  space.set(hall(1), false);
  expect(convolvers()).toHaveLength(1);
  vi.useFakeTimers();
  space.set(hall(2), false);
  expect(convolvers()).toHaveLength(2);
  expect(convolvers()[0]?.disconnected).toBe(false);
  // Until something sounds neither costs anything.
  expect(lieDormant.mock.calls).toEqual([1, 2].map(() => [context, space.input]));
  // The new one fades in where it is entered, the old one out where it is heard: neither begins nor ends inside a wave.
  const [, , , , heard, entered] = made.GainNode;
  expect([entered?.options, entered?.gain.to]).toEqual([expect.objectContaining({ gain: 0 }), [1]]);
  expect(heard?.gain.to).toEqual([0]);
  expect(made.GainNode[6]?.gain).toMatchObject({ value: 1, to: [] });
  vi.advanceTimersByTime(1000);
  expect(convolvers().map((each) => each.disconnected)).toEqual([true, false]);
  space.set(null, false);
  vi.advanceTimersByTime(1000);
  vi.useRealTimers();
  expect(past?.gain.to).toEqual([0, 1]);
  expect(convolvers()[1]?.disconnected).toBe(true);
  expect(answers.load).not.toHaveBeenCalled();
});

it('is asked for again until somebody answers, and for what was wanted last', async () => {
  vi.useFakeTimers();
  const asked: number[] = [];
  let away = true;
  const load = async ({ length_s }: { length_s: number }) => {
    asked.push(length_s);
    if (away) throw new Error('gone');
    return {};
  };
  const space = new Space(context, { known: () => undefined, load } as unknown as ImpulseResponses);
  space.set(hall(1), false);
  await vi.advanceTimersByTimeAsync(10);
  space.set(hall(2), false);
  expect(convolvers()).toHaveLength(0);
  away = false;
  await vi.advanceTimersByTimeAsync(1100);
  expect(asked).toEqual([1, 2]);
  expect(convolvers()).toHaveLength(1);
  away = true;
  space.set(hall(3), false);
  await vi.advanceTimersByTimeAsync(10);
  space.dispose();
  await vi.advanceTimersByTimeAsync(5000);
  expect(asked).toEqual([1, 2, 3]);
  vi.useRealTimers();
});
