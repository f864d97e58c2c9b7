/** Previews are asked for while they are in sight, again until they are there, and anew when something changed. */
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import type { PreviewItem } from '../../api/calls';
import { keyOfItem, lookAgain, usePreviews, want } from './hearing';

const KIT: PreviewItem = { kind: 'kits', id: 'quay', version: 0 };
let asked: string[][] = [];
let made: boolean[] = [];
let state = 'settling';

beforeEach(() => {
  vi.useFakeTimers();
  [asked, made, state] = [[], [], 'settling'];
  vi.stubGlobal('fetch', async (_: string, init: RequestInit) => {
    const { items, make } = JSON.parse(String(init.body)) as { items: PreviewItem[]; make: boolean };
    made.push(make);
    asked.push(items.map(keyOfItem));
    return Response.json(items.map((item) => ({ item, state, key: 'k' })));
  });
});
afterEach(() => vi.useRealTimers());

it('asks as long as one is in sight and not there, and again where something was changed', async () => {
  const [once, twice] = [want(KIT), want(KIT)];
  await vi.advanceTimersByTimeAsync(100);
  expect(asked).toEqual([['kits/quay@0']]);
  await vi.advanceTimersByTimeAsync(2000);
  expect(asked.length).toBeGreaterThan(2);
  // What was only just come to is not made: it may be scrolled past.
  expect([made[0], made[made.length - 1]]).toEqual([false, true]);
  state = 'ready';
  await vi.advanceTimersByTimeAsync(1000);
  expect(usePreviews.getState().known.get('kits/quay@0')?.state).toBe('ready');
  const there = asked.length;
  await vi.advanceTimersByTimeAsync(5000);
  expect(asked).toHaveLength(there);
  once();
  state = 'stale';
  lookAgain();
  await vi.advanceTimersByTimeAsync(1000);
  expect(asked.length).toBeGreaterThan(there);
  twice();
  await vi.advanceTimersByTimeAsync(1000);
  const left = asked.length;
  await vi.advanceTimersByTimeAsync(5000);
  expect(asked).toHaveLength(left);
});
