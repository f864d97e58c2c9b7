/** What was just struck, as it is shown. */
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { Player, Report } from '../../player/player';
import { useStrikes } from './strikes';

const takes = ['t1', 't2', 't3', 't4'].map((id) => ({ id, label: id.toUpperCase(), voices: [] }));
const articulation = {
  id: 'snare/centre',
  name: 'centre',
  takes,
  layers: [
    { low: 1, high: 60, gains: [], steps: [[0], [1]] },
    { low: 61, high: 127, gains: [], steps: [[3], [2]] },
  ],
};
const piece = { id: 'snare', name: 'Snare', articulations: [articulation] };
const sounding = (take: number, layer: number) => ({
  piece,
  articulation,
  velocity: 90,
  layer,
  take: takes[take],
  gain: 1,
});
const report = (more: Partial<Report>): Report =>
  ({
    source: 'pads',
    note: 38,
    velocityIn: 80,
    soundings: [],
    substituted: false,
    letGo: 0,
    when: 0,
    why: '',
    aimed: 'snare/centre',
    ...more,
  }) as Report;
const player = { context: { currentTime: 0 } } as unknown as Player;
const take = async (one: Report) => {
  useStrikes.getState().take(one, player);
  await Promise.resolve(); // it is shown when the strike itself is over
};

beforeEach(() => useStrikes.getState().clear());

describe('a strike', () => {
  it('is shown with its take counted among its layer’s, whatever their order', async () => {
    await take(report({ soundings: [sounding(3, 1)] as unknown as Report['soundings'] }));
    expect(useStrikes.getState().last).toMatchObject({
      take: 2,
      takes: 2,
      layer: 1,
      layers: 2,
      label: 'T4',
      velocity: 90,
    });
    expect(useStrikes.getState().lastOf.get('snare/centre')?.takeId).toBe('t4');
  });

  it('that did not play says why and leaves the last one that did', async () => {
    await take(report({ soundings: [sounding(0, 0)] as unknown as Report['soundings'] }));
    await take(report({ why: 'cross_talk' }));
    const { last, lastOf, tape } = useStrikes.getState();
    expect(last).toMatchObject({ ignored: true, why: 'cross_talk', aimed: 'snare/centre' });
    expect(lastOf.get('snare/centre')?.takeId).toBe('t1');
    expect(tape.map((t) => t.ignored)).toEqual([false, true]);
  });

  it('counts by input, articulation and velocity; one take by itself does not', async () => {
    for (const source of ['pads', 'pads', 'keys', 'take']) await take(report({ source }));
    const counted = [...useStrikes.getState().struck.values()].map((s) => [s.input, s.times]);
    expect(counted).toEqual([
      ['pads', 2],
      ['keys', 1],
    ]);
  });

  it('that a groove scheduled is shown when it sounds', async () => {
    vi.useFakeTimers();
    useStrikes.getState().take(report({ when: 0.15 }), player);
    vi.advanceTimersByTime(100);
    expect(useStrikes.getState().last).toBeNull();
    vi.advanceTimersByTime(60);
    expect(useStrikes.getState().last?.velocityIn).toBe(80);
    vi.useRealTimers();
  });
});
