/** The transport's clock: a groove's strikes a little ahead on the audio clock, in time whatever the tempo does. */
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Groove } from '../api/calls';
import type { Player, PlayerMessage } from './player';
import { Transport } from './transport';

const hit = (time_s: number, note: number) => ({ kind: 'strike', time_s, note, velocity: 100 });
const groove = {
  name: 'Two beats',
  bpm: 120,
  beats_a_bar: 2,
  length_s: 1,
  events: [hit(0, 36), hit(0.5, 38)],
} as unknown as Groove;

let now = 0;
let sent: { note: number; when: number; at: number }[] = [];
const player = {
  context: {
    get currentTime() {
      return now;
    },
  },
  wake: () => undefined,
  controllerOf: () => 4,
  take: (incoming: PlayerMessage, when: number) => sent.push({ note: incoming.number, when, at: now }),
} as unknown as Player;

/** Let the audio clock and the page's go on together. */
function pass(seconds: number) {
  for (let t = 0; t < seconds - 1e-9; t += 0.01) {
    now += 0.01;
    vi.advanceTimersByTime(10);
  }
}

/** The times between one and the next, to the microsecond. */
const steps = (times: number[]) =>
  times.slice(1).map((time, k) => Math.round((time - (times[k] as number)) * 1e6) / 1e6);

beforeEach(() => {
  vi.useFakeTimers();
  [now, sent] = [10, []];
});
afterEach(() => vi.useRealTimers());

const started = () => {
  const transport = new Transport(() => player);
  transport.choose(groove);
  transport.start();
  return transport;
};

describe('a groove that loops', () => {
  it('is scheduled ahead, never late, every strike once, in even time', () => {
    const transport = started();
    pass(3.2);
    transport.stop();
    const times = sent.map((s) => s.when);
    expect(sent.slice(0, 4).map((s) => s.note)).toEqual([36, 38, 36, 38]);
    expect(steps(times)).toEqual(times.slice(1).map(() => 0.5));
    for (const { when, at } of sent) {
      expect(when).toBeGreaterThan(at);
      expect(when - at).toBeLessThan(0.2);
    }
    const count = sent.length;
    pass(1);
    expect(sent).toHaveLength(count);
  });

  it('keeps its place when the tempo changes', () => {
    const transport = started();
    pass(0.8);
    const place = transport.position();
    transport.setTempo(60);
    expect(transport.position()).toBeCloseTo(place, 6);
    const before = sent.length;
    pass(4);
    const later = sent.slice(before + 1).map((s) => s.when);
    expect(steps(later)).toEqual(later.slice(1).map(() => 1));
  });

  it('ends after its last bar where it does not loop', () => {
    const transport = started();
    transport.setLooping(false);
    pass(2);
    expect(transport.running).toBe(false);
    expect(sent.map((s) => s.note)).toEqual([36, 38]);
  });
});
