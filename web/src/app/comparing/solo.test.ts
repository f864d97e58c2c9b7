/** Solo is listening: kept by this window alone, told to the player, gone with what it is of and with the kit. */
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { KitState } from '../../api/calls';
import { useKit } from '../kit/kitStore';
import { channelsAlone, micsAlone } from './solo';

const told = { solo: vi.fn(), soloMics: vi.fn() };
const kit = (id: string, ...names: string[]) => {
  const these = names.map((each) => ({ id: each }));
  return { id, head: { channels: these, buses: [], mics: these } } as unknown as KitState;
};

describe.each([
  ['a channel', channelsAlone, told.solo],
  ['a microphone', micsAlone, told.soloMics],
])('%s', (_, { use, toggle }, tell) => {
  const soloed = () => [...use.getState().ids].sort();

  beforeEach(() => {
    use.setState({ ids: new Set() });
    useKit.setState({ kit: kit('a', 'kick', 'snare', 'room'), player: told as never });
    for (const each of Object.values(told)) each.mockClear();
  });

  it('is switched on and off, and the player hears of each', () => {
    toggle('kick');
    toggle('room');
    expect(soloed()).toEqual(['kick', 'room']);
    toggle('kick');
    expect(soloed()).toEqual(['room']);
    expect(tell.mock.calls.map(([ids]) => [...ids].sort())).toEqual([['kick'], ['kick', 'room'], ['room']]);
    expect(told.solo.mock.calls.length + told.soloMics.mock.calls.length).toBe(3);
  });

  it('goes with what it is of, and stays through any other edit', () => {
    toggle('kick');
    toggle('room');
    tell.mockClear();
    useKit.setState({ kit: kit('a', 'kick', 'snare', 'room') });
    expect(tell).not.toHaveBeenCalled();
    useKit.setState({ kit: kit('a', 'kick', 'snare') });
    expect(soloed()).toEqual(['kick']);
    expect([...(tell.mock.calls[0]?.[0] ?? [])]).toEqual(['kick']);
  });

  it('ends with the kit, also where the next one has one of the same name', () => {
    toggle('kick');
    useKit.setState({ kit: kit('b', 'kick') });
    expect(soloed()).toEqual([]);
  });
});
