/** A and B: heard by turns and loudness-matched, neither an edit, and over as soon as something else is meant to be heard. */
import { beforeEach, expect, it, vi } from 'vitest';
import type { MomentShown } from '../../api/calls';

const studio = vi.hoisted(() => ({ get: vi.fn(), post: vi.fn(), figureOf: vi.fn() }));
vi.mock('../../api/calls', async (original) => ({
  ...(await original<typeof import('../../api/calls')>()),
  get: studio.get,
  post: studio.post,
}));
vi.mock('./figures', () => ({ figureOf: studio.figureOf }));

const { compareWith, changeSides, goBack, heardNow, hearSide, hideWhich, showWhich, useComparing } = await import(
  './comparing'
);
const { turn } = await import('../kit/desk');
const { channelOf, deskKit } = await import('../kit/desk.fixture');
const { transport, useKit } = await import('../kit/kitStore');

const heard = vi.fn();
const kit = (id: string, version: number) => ({ ...deskKit(id, channelOf('snare')), version });
const moment: MomentShown = { version: 2, said: 'Set send', name: 'dry', made: '2026-11-26T10:00:00Z' };
const table = { head: { feeds: [] }, pieces: [] };
const now = () => useComparing.getState();

beforeEach(async () => {
  useKit.setState({
    kit: kit('a', 5),
    player: { hearThen: heard, prepareThen: vi.fn(), turn: vi.fn(), update: vi.fn(), hearBefore: vi.fn() } as never,
  });
  Object.assign(transport, { groove: { id: 7, name: 'Rope Walk' } });
  studio.get.mockReset().mockResolvedValue(table);
  studio.post.mockReset();
  studio.figureOf.mockReset().mockImplementation(async (_, then) => ({ db: then ? -20 : -17.5 }));
  await compareWith(null);
  heard.mockClear();
});

it('plays the kit as it was at the gain that makes it as loud, and as it is again', async () => {
  await compareWith({ moment, routing: true });
  expect(studio.get).toHaveBeenCalledWith('/api/kits/{kit_id}/as-it-was', { kit_id: 'a', version: 2, routing: true });
  expect(now().softer).toBe(2.5);
  expect(heard).not.toHaveBeenCalledWith(table, expect.anything());
  changeSides();
  expect(heard).toHaveBeenLastCalledWith(table, 10 ** (2.5 / 20));
  changeSides();
  expect(heard).toHaveBeenLastCalledWith(null);
});

it('cannot be heard before it is there, and says why it is not loudness-matched', async () => {
  let come: (found: typeof table) => void = () => undefined;
  studio.get.mockImplementation(() => new Promise((resolve) => (come = resolve)));
  studio.figureOf.mockRejectedValue(new Error('The worker is away.'));
  const comes = compareWith({ moment, routing: false });
  hearSide('b');
  expect(now().hearing).toBe('a');
  come(table);
  await comes;
  expect(now().said).toBe('The worker is away.');
  hearSide('b');
  expect(heard).toHaveBeenLastCalledWith(table, 1);
});

it.each<[string, () => void]>([
  ['something is turned', () => turn('snare', { level_db: -3 })],
  ['an edit is made', () => useKit.setState({ kit: kit('a', 6) })],
])('is over for the ear when %s', async (_, change) => {
  await compareWith({ moment, routing: true });
  hearSide('b');
  change();
  expect(now().hearing).toBe('a');
  expect(heard).toHaveBeenLastCalledWith(null);
  await vi.waitFor(() => expect(now().softer).toBe(2.5));
  expect(now().other?.moment).toBe(moment);
});

it('asks anew what another version would play, and takes no answer to what was asked before', async () => {
  await compareWith({ moment, routing: true });
  useKit.setState({ kit: kit('a', 6) });
  await vi.waitFor(() => expect(studio.get).toHaveBeenCalledTimes(2));
  let late: (found: object) => void = () => undefined;
  studio.get.mockImplementationOnce(() => new Promise((resolve) => (late = resolve)));
  const first = compareWith({ moment, routing: true });
  await compareWith({ moment, routing: false });
  late({ head: { feeds: ['of another'] }, pieces: [] });
  await first;
  expect(now().table).toBe(table);
  useKit.setState({ kit: kit('b', 1) });
  expect(now().other).toBeNull();
});

it('hides which is which, and says 1 and 2 until it is asked', async () => {
  await compareWith({ moment, routing: true });
  for (const [drawn, first] of [
    [0.2, 'a'],
    [0.8, 'b'],
  ] as const) {
    vi.spyOn(Math, 'random').mockReturnValueOnce(drawn);
    hideWhich();
    expect([now().hearing, heardNow(now())]).toEqual([first, '1']);
    changeSides();
    expect(heardNow(now())).toBe('2');
    showWhich();
    expect(heardNow(now())).toBe(first === 'a' ? 'B' : 'A');
    hearSide('a');
  }
});

it('goes back to B by one call, and stays where that is refused', async () => {
  const take = vi.fn();
  const say = vi.fn();
  useKit.setState({ take, say });
  await compareWith({ moment, routing: true });
  studio.post.mockRejectedValueOnce(new Error('This kit was changed elsewhere.'));
  await goBack();
  expect(say).toHaveBeenCalledWith('This kit was changed elsewhere.');
  expect(now().other).not.toBeNull();
  const state = kit('a', 6);
  studio.post.mockResolvedValueOnce(state);
  await goBack();
  const asked = { base_version: 5, as_it_was: { version: 2, routing: true } };
  expect(studio.post).toHaveBeenLastCalledWith('/api/kits/{kit_id}/back', { kit_id: 'a' }, asked);
  expect(take).toHaveBeenCalledExactlyOnceWith(state, 'a');
  expect(now().other).toBeNull();
});
