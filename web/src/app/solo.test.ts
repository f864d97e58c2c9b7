/** Solo is listening: kept by this window alone, told to the player, gone with its channel and with the kit. */
import { beforeEach, expect, it, vi } from 'vitest';
import type { KitState } from '../api/calls';
import { useKit } from './kitStore';
import { toggleSolo, useSolo } from './solo';

const solo = vi.fn();
const kit = (id: string, ...channels: string[]) =>
  ({ id, head: { channels: channels.map((each) => ({ id: each })), buses: [] } }) as unknown as KitState;
const soloed = () => [...useSolo.getState().channels].sort();

beforeEach(() => {
  solo.mockClear();
  useSolo.setState({ channels: new Set() });
  useKit.setState({ kit: kit('a', 'kick', 'snare', 'room'), player: { solo } as never });
});

it('is switched on and off by channel, and the player hears of each', () => {
  toggleSolo('kick');
  toggleSolo('room');
  expect(soloed()).toEqual(['kick', 'room']);
  toggleSolo('kick');
  expect(soloed()).toEqual(['room']);
  expect(solo.mock.calls.map(([channels]) => [...channels].sort())).toEqual([['kick'], ['kick', 'room'], ['room']]);
});

it('goes with a channel that goes, and stays through any other edit', () => {
  toggleSolo('kick');
  toggleSolo('room');
  solo.mockClear();
  useKit.setState({ kit: kit('a', 'kick', 'snare', 'room') });
  expect(solo).not.toHaveBeenCalled();
  useKit.setState({ kit: kit('a', 'kick', 'snare') });
  expect(soloed()).toEqual(['kick']);
  expect([...(solo.mock.calls[0]?.[0] ?? [])]).toEqual(['kick']);
});

it('ends with the kit, also where the next one has a channel of the same name', () => {
  toggleSolo('kick');
  useKit.setState({ kit: kit('b', 'kick') });
  expect(soloed()).toEqual([]);
});
