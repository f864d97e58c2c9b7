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
  [fetches, broken] = [[], ''];
  vi.stubGlobal('fetch', async (path: string) => {
    const content = path.split('/')[3] as string;
    fetches.push(content);
    return content === broken ? new Response(null, { status: 404 }) : new Response(new ArrayBuffer(8));
  });
});

describe('sounds', () => {
  it('that are wanted now come before those that were wanted earlier, and none is fetched twice', async () => {
    const sounds = new Sounds(context);
    sounds.want([piece(...Array.from({ length: 12 }, (_, n) => `later${n}`))]);
    sounds.want([piece('now')], true);
    sounds.want([piece('now', 'later3')]);
    await sounds.settled();
    expect(fetches.indexOf('now')).toBeLessThan(7);
    expect(new Set(fetches).size).toBe(fetches.length);
    expect(sounds.size).toBe(13 * BYTES);
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
});
