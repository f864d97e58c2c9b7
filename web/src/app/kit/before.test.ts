/** Hearing a channel before its treatment: one at a time, until something of it is turned, changed or left. */
import { beforeEach, expect, it, vi } from 'vitest';
import { WHOLE_KIT } from '../../player/listened';
import { hearBefore, useBefore } from './before';
import { turn } from './desk';
import { channelOf, deskKit, FIRST } from './desk.fixture';
import { useKit } from './kitStore';

const heard = vi.fn();
const kit = (id: string, more: object = {}, other: object = {}) =>
  deskKit(id, channelOf('snare', { treatments: [FIRST.drive], ...more }), channelOf('kick', other));

beforeEach(() => {
  useKit.setState({ kit: kit('a'), player: { hearBefore: heard, turn: vi.fn() } as never });
  hearBefore(null);
  heard.mockClear();
});

it('is heard louder by what treatment added, and once for one press', () => {
  hearBefore('snare', 6);
  hearBefore('snare', 6);
  expect(heard).toHaveBeenCalledExactlyOnceWith('snare', 10 ** (6 / 20));
  hearBefore('snare', -2);
  expect(heard).toHaveBeenLastCalledWith('snare', 10 ** (-2 / 20));
  hearBefore(WHOLE_KIT, 1);
  expect(heard).toHaveBeenLastCalledWith(WHOLE_KIT, 10 ** (1 / 20));
  hearBefore(null);
  expect(heard).toHaveBeenLastCalledWith(null, 1);
});

it.each<[string, () => void, boolean]>([
  ['its treatment is turned', () => turn('snare', { treatments: [] }), true],
  ['its bypass is switched', () => turn('snare', { treated: false }), true],
  ['its level is turned', () => turn('snare', { level_db: -3 }), false],
  ['an edit changes its treatment', () => useKit.setState({ kit: kit('a', { treatments: [] }) }), true],
  ['an edit changes its level', () => useKit.setState({ kit: kit('a', { level_db: -3 }) }), false],
  ['an edit treats another', () => useKit.setState({ kit: kit('a', {}, { treatments: [FIRST.drive] }) }), false],
  ['another kit is opened', () => useKit.setState({ kit: kit('b') }), true],
])('ends, or goes on, when %s', (_, change, ends) => {
  hearBefore('snare', 6);
  change();
  expect(useBefore.getState().of).toBe(ends ? null : 'snare');
});

it('of the whole kit ends when any channel is treated otherwise', () => {
  hearBefore(WHOLE_KIT, 1);
  useKit.setState({ kit: kit('a', { level_db: -3 }) });
  expect(useBefore.getState().of).toBe(WHOLE_KIT);
  useKit.setState({ kit: kit('a', {}, { treated: false }) });
  expect(useBefore.getState().of).toBeNull();
});
