/** Selected channels: choosing them, what follows what while it is turned, and the one edit that keeps it. */
import { beforeEach, expect, it, vi } from 'vitest';
import { useDesk } from '../../app/kit/desk';
import { channelOf, deskKit } from '../../app/kit/desk.fixture';
import { useKit } from '../../app/kit/kitStore';
import { takeRules } from '../../app/kit/rules';
import { choose, chosenWith, keepLevel, keepSame, turnLevel, turnSame, useChosen } from './together';

const ORDER = ['kick', 'snare', 'hats', 'ride'];
const edit = vi.fn(async () => null);
const plain = { ctrlKey: false, metaKey: false, shiftKey: false };
const levels = () =>
  Object.fromEntries(Object.entries(useDesk.getState().turned).map(([id, part]) => [id, part.level_db]));

beforeEach(() => {
  takeRules({ limits: { 'channel.level_db': { least: -120, most: 24 } } } as never);
  edit.mockClear();
  const kit = deskKit(
    'a',
    channelOf('kick', { level_db: -6 }),
    channelOf('snare'),
    channelOf('hats', { level_db: -3 }),
    channelOf('ride', { level_db: -120 }),
  );
  kit.head.groups = [['snare', 'hats']];
  useKit.setState({ kit, player: { turn: vi.fn(), hearBefore: vi.fn() } as never, edit: edit as never });
  useDesk.setState({ turned: {} });
  useChosen.setState({ ids: [] });
});

it('chooses one, others beside it, all up to one, and lets go of one pressed again', () => {
  const chosen = (id: string, keys: object = {}) => {
    choose(id, { ...plain, ...keys }, ORDER);
    return useChosen.getState().ids;
  };
  expect(chosen('kick', { ctrlKey: true })).toEqual(['kick']);
  expect(chosen('hats', { ctrlKey: true })).toEqual(['kick', 'hats']);
  expect(chosen('ride', { metaKey: true })).toEqual(['kick', 'hats', 'ride']);
  expect(chosen('hats', { ctrlKey: true })).toEqual(['kick', 'ride']);
  expect(chosen('snare', { shiftKey: true })).toEqual(['hats', 'ride', 'snare']);
  expect(chosen('snare')).toEqual(['snare']);
  expect(chosen('snare', { ctrlKey: true })).toEqual(['snare']);
  expect(chosen('main', { ctrlKey: true })).toEqual(['main']);
  expect(chosen('kick', { shiftKey: true })).toEqual(['kick']);
  expect(chosenWith('hats')).toEqual(['hats']);
  useKit.setState({ kit: deskKit('b', channelOf('kick')) });
  expect(useChosen.getState().ids).toEqual([]);
});

it('moves chosen levels and those grouped with them, keeps distances, and says it in one edit', async () => {
  useChosen.setState({ ids: ['kick', 'hats'] });
  turnLevel('kick', -8.5);
  expect(levels()).toEqual({ kick: -8.5, snare: -2.5, hats: -5.5 });
  keepLevel('kick', -9, 'drag');
  expect(edit).toHaveBeenCalledExactlyOnceWith(
    { kind: 'set_channels', channels: ['kick', 'hats'], level_db: -9 },
    'drag',
  );
  await vi.waitFor(() => expect(useDesk.getState().turned).toEqual({}));
});

it('moves a group by any of its channels with the edit of one', () => {
  keepLevel('hats', 0, 'drag');
  expect(levels()).toEqual({ hats: 0, snare: 3 });
  expect(edit).toHaveBeenCalledExactlyOnceWith({ kind: 'set_channel', channel: 'hats', level_db: 0 }, 'drag');
});

it('moves one that is at −∞ dB by itself, and main', () => {
  useChosen.setState({ ids: ['kick', 'ride'] });
  turnLevel('ride', -10);
  expect(levels()).toEqual({ ride: -10 });
  useDesk.setState({ turned: {} });
  turnLevel('main', -1);
  expect(levels()).toEqual({ main: -1 });
});

it('makes pan, mute and output the same on all that are chosen', () => {
  useChosen.setState({ ids: ['kick', 'snare'] });
  turnSame('kick', { pan: 0.5 });
  keepSame('snare', { muted: true }, 'press');
  expect(useDesk.getState().turned).toEqual({ kick: { pan: 0.5, muted: true }, snare: { pan: 0.5, muted: true } });
  expect(edit).toHaveBeenLastCalledWith({ kind: 'set_channels', channels: ['snare', 'kick'], muted: true }, 'press');
  keepSame('hats', { output: 4 }, 'press');
  expect(edit).toHaveBeenLastCalledWith({ kind: 'set_channel', channel: 'hats', output: 4 }, 'press');
  expect(useDesk.getState().turned.hats).toBeUndefined();
});
