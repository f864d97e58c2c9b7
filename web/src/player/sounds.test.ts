/** Sounds under a budget: what is on screen comes first and stays, what was played longest ago goes. */
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { PlayPiece } from '../api/calls';
import { Sounds } from './sounds';

const FRAMES = 1000;
/** A sound's silence behind it, in which filters ring. */
const BYTES = (FRAMES + 256) * 4;

class FakeBuffer {
  numberOfChannels = 1;
  constructor(readonly options: { length: number; sampleRate: number }) {}
  get length() {
    return this.options.length;
  }
  get sampleRate() {
    return this.options.sampleRate;
  }
  getChannelData = () => new Float32Array(this.options.length);
  copyToChannel = () => undefined;
}
vi.stubGlobal('AudioBuffer', FakeBuffer);

let fetches: string[] = [];
let broken = '';
/** How many sounds fit into an answer. */
let fits = 99;
const context = {
  sampleRate: 48000,
  decodeAudioData: async () => new FakeBuffer({ length: FRAMES, sampleRate: 48000 }),
} as unknown as BaseAudioContext;

const voice = (content: string) => ({ mic: 0, gain: 1, sound: { content, width: 'mono', start_frame: 0 } });
const piece = (...contents: string[]) =>
  ({
    id: contents.join(),
    articulations: [{ takes: contents.map((c) => ({ voices: [voice(c)] })) }],
  }) as unknown as PlayPiece;
const soundOf = (content: string) => voice(content).sound as Parameters<Sounds['has']>[0];
const has = (sounds: Sounds, content: string) => sounds.has(soundOf(content));

beforeEach(() => {
  [fetches, broken, fits] = [[], '', 99];
  vi.stubGlobal('fetch', async (path: string) => {
    const asked = new URL(path, 'http://studio').searchParams.getAll('of').map((of) => of.split(',')[0] as string);
    const answered = asked.slice(0, fits);
    fetches.push(...answered);
    // Each the length of its file in four bytes, then the file; nothing of one that cannot be had.
    return new Response(Uint8Array.from(answered.flatMap((c) => (c === broken ? [0, 0, 0, 0] : [0, 0, 0, 1, 7]))));
  });
});

describe('sounds', () => {
  it('that are wanted now come before those that were wanted earlier, and none is fetched twice', async () => {
    const sounds = new Sounds(context);
    sounds.want([piece(...Array.from({ length: 40 }, (_, n) => `later${n}`))]);
    sounds.want([piece('now')], true);
    sounds.want([piece('now', 'later3')]);
    await sounds.settled();
    expect(fetches.indexOf('now')).toBe(18);
    expect(new Set(fetches).size).toBe(fetches.length);
    expect(sounds.size).toBe(41 * BYTES);
  });

  it('that did not fit into an answer are asked for again before what was wanted earlier', async () => {
    fits = 2;
    const sounds = new Sounds(context);
    sounds.want([piece(...Array.from({ length: 40 }, (_, n) => `later${n}`))]);
    sounds.want([piece('a', 'b', 'c', 'd', 'e')], true);
    await sounds.settled();
    expect(new Set(fetches).size).toBe(fetches.length);
    expect(sounds.size).toBe(45 * BYTES);
    // Three answers were on their way, and three more before the last of five could be asked for a second time.
    expect(fetches.indexOf('e')).toBeLessThan(20);
  });

  it('of what is on screen push out what was played longest ago', async () => {
    const sounds = new Sounds(context, 4 * BYTES);
    sounds.want([piece('a', 'b', 'c', 'd')]);
    await sounds.settled();
    sounds.ready(soundOf('a'));
    sounds.want([piece('x', 'y', 'z')], true);
    await sounds.settled();
    expect(['x', 'y', 'z'].map((c) => has(sounds, c))).toEqual([true, true, true]);
    expect([has(sounds, 'b'), has(sounds, 'a')]).toEqual([false, true]);
    // Nothing that is not on screen is loaded while the budget is spent.
    sounds.want([piece('later')]);
    await sounds.settled();
    expect([has(sounds, 'later'), has(sounds, 'x')]).toEqual([false, true]);
  });

  it('that cannot be had are counted and not asked for again and again', async () => {
    broken = 'gone';
    const sounds = new Sounds(context);
    await sounds.load([piece('gone', 'here')]);
    expect([sounds.lost, has(sounds, 'here'), has(sounds, 'gone')]).toEqual([1, true, false]);
    await sounds.load([piece('gone')]);
    expect(fetches.filter((c) => c === 'gone')).toHaveLength(1);
  });

  it('that could not be had are asked for again by themselves, later each time, and at once when told', async () => {
    vi.useFakeTimers();
    const sounds = new Sounds(context);
    const asked = () => fetches.filter((content) => content === 'gone').length;
    broken = 'gone';
    sounds.want([piece('gone')]);
    for (const [after, times] of [
      [0, 1],
      [999, 1],
      [1, 2],
      [1999, 2],
      [1, 3],
      [3999, 3],
    ] as const) {
      await vi.advanceTimersByTimeAsync(after);
      expect([asked(), sounds.lost, sounds.toCome]).toEqual([times, 1, 0]);
    }
    broken = '';
    sounds.again();
    await vi.advanceTimersByTimeAsync(0);
    expect([asked(), sounds.lost, has(sounds, 'gone')]).toEqual([4, 0, true]);
    await vi.advanceTimersByTimeAsync(60_000);
    expect(asked()).toBe(4);
    vi.useRealTimers();
  });
});
