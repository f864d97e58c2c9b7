/** What a meter reached is held for a moment; what was too much is marked until somebody has seen it. */
import { beforeEach, expect, it } from 'vitest';
import { Held, useClipped } from './meters';

beforeEach(() => useClipped.setState({ names: new Set() }));

it('holds the highest of the last moments, each meter its own', () => {
  const held = new Held();
  expect(held.after('snare', 0.5, 0)).toBe(0.5);
  expect(held.after('snare', 0.1, 900)).toBe(0.5);
  expect(held.after('kick', 0.2, 900)).toBe(0.2);
  expect(held.after('snare', 0.7, 1000)).toBe(0.7);
  expect(held.after('snare', 0.1, 2400)).toBe(0.7);
  expect(held.after('snare', 0.1, 2600)).toBe(0.1);
});

it('marks what was too much until it has been seen, one by one', () => {
  useClipped.setState({ names: new Set(['channel snare', 'out 3']) });
  useClipped.getState().seen('channel snare');
  expect([...useClipped.getState().names]).toEqual(['out 3']);
  useClipped.getState().seen('nothing of the kind');
  expect([...useClipped.getState().names]).toEqual(['out 3']);
});
