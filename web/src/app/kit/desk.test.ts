/** The desk: what is turned is shown and heard at once, on the channel it was turned on, in the kit it was turned in. */
import { beforeEach, expect, it, vi } from 'vitest';
import { channelNow, keepTurned, turn, useDesk } from './desk';
import { channelOf, deskKit } from './desk.fixture';
import { useKit } from './kitStore';

const kit = (id: string) => deskKit(id, channelOf('kick'), channelOf('snare'));
const heard = vi.fn();
const edit = vi.fn(async () => null);

beforeEach(() => {
  heard.mockClear();
  edit.mockClear();
  useKit.setState({ kit: kit('a'), player: { turn: heard } as never, edit: edit as never });
  useDesk.setState({ turned: {} });
});

it('is heard as it is turned: level and pan as gains, mute as silence', () => {
  turn('kick', { level_db: -6 });
  turn('kick', { pan: -1 });
  const [left, right] = (heard.mock.lastCall as [{ matrix: [[number], [number]] }])[0].matrix;
  expect(left[0]).toBeCloseTo(10 ** (-6 / 20), 12);
  expect(right[0]).toBeCloseTo(0, 12);
  turn('kick', { muted: true });
  expect(heard.mock.calls[2]?.[0].matrix).toEqual([[0], [0]]);
  expect(channelNow('kick')).toMatchObject({ level_db: -6, pan: -1, muted: true });
  expect(channelNow('snare')).toMatchObject({ level_db: 0, muted: false });
});

it('turns main like any other channel, out of the first output', () => {
  turn('main', { level_db: 6 });
  expect(heard.mock.calls[0]?.[0]).toMatchObject({ id: 'main', output: 1 });
  expect(heard.mock.calls[0]?.[0].matrix[0][0]).toBeCloseTo(10 ** (6 / 20), 12);
});

it('knows nothing of a channel that is not there', () => {
  turn('triangle', { level_db: -6 });
  expect(heard).not.toHaveBeenCalled();
  expect(channelNow('triangle')).toBeNull();
});

it('keeps what was turned as the edit says, and then goes by the kit again', async () => {
  turn('snare', { pan: 0.25 });
  await keepTurned('snare', { kind: 'set_channel', channel: 'snare', pan: 0.25 }, 'drag 7');
  expect(edit).toHaveBeenCalledExactlyOnceWith({ kind: 'set_channel', channel: 'snare', pan: 0.25 }, 'drag 7');
  expect(useDesk.getState().turned).toEqual({});
  expect(heard).toHaveBeenLastCalledWith(null, 'snare');
});

it('forgets what was turned when another kit is opened', () => {
  turn('kick', { level_db: -6 });
  useKit.setState({ kit: kit('b') });
  expect(useDesk.getState().turned).toEqual({});
  expect(channelNow('kick')?.level_db).toBe(0);
});
