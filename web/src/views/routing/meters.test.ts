/** What a meter reached is held for a moment; what was too much is marked until somebody has seen it. */
import { beforeEach, expect, it, vi } from 'vitest';
import { Held, useClipped, write } from './meters';

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

it('is written where it has moved, each share and each meter its own', () => {
  const meter = () => ({ style: { setProperty: vi.fn() } });
  const [kick, snare] = [meter(), meter()];
  const tell = (node: object, what: string, share: number) => write(node as HTMLElement, what, share);
  tell(kick, '--passes', 0);
  tell(kick, '--passes', 0);
  tell(kick, '--held', 0);
  tell(snare, '--passes', 0);
  tell(kick, '--passes', 0.5);
  tell(kick, '--passes', 0);
  expect(kick.style.setProperty.mock.calls).toEqual([
    ['--passes', '0.000'],
    ['--held', '0.000'],
    ['--passes', '0.500'],
    ['--passes', '0.000'],
  ]);
  expect(snare.style.setProperty.mock.calls).toEqual([['--passes', '0.000']]);
});

it('marks what was too much until it has been seen, one by one', () => {
  useClipped.setState({ names: new Set(['channel snare', 'out 3']) });
  useClipped.getState().seen('channel snare');
  expect([...useClipped.getState().names]).toEqual(['out 3']);
  useClipped.getState().seen('nothing of the kind');
  expect([...useClipped.getState().names]).toEqual(['out 3']);
});
