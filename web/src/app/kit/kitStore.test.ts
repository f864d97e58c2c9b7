/** Edits on their way: one at a time, in order, a drag's only the latest, to the kit they were made in. */
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { Edit, KitState } from '../../api/calls';

vi.mock('../../player/player', () => ({
  Player: class {
    sounds = { ease: () => undefined, again: () => undefined };
    strips = Promise.resolve();
    onStrike = () => undefined;
    update = () => undefined;
    close = () => undefined;
    solo = () => undefined;
  },
}));
const session = new Map<string, string>();
vi.stubGlobal('sessionStorage', {
  getItem: (key: string) => session.get(key) ?? null,
  setItem: (key: string, value: string) => session.set(key, value),
  removeItem: (key: string) => session.delete(key),
});
vi.stubGlobal('window', { requestIdleCallback: (then: () => void) => queueMicrotask(then) });

interface Asked {
  path: string;
  body: { base_version: number; edit?: Edit; gesture?: string; mark?: string };
  /** Nobody is there to answer. */
  fail: () => void;
  answer: (state: Partial<KitState> | { detail: string; current?: number }, status?: number) => void;
}

let asked: Asked[] = [];

/** A studio that answers when it is told to. */
function fetched(path: string, init?: RequestInit): Promise<Response> {
  return new Promise((resolve, reject) => {
    const body = init?.body ? JSON.parse(String(init.body)) : {};
    const answer: Asked['answer'] = (state, status = 200) => resolve(new Response(JSON.stringify(state), { status }));
    asked.push({ path: path.replace('/api', ''), body, answer, fail: () => reject(new TypeError('Failed to fetch')) });
  });
}

const state = (id: string, version: number, more: Partial<KitState> = {}): KitState =>
  ({
    id,
    version,
    undo: 'x',
    redo: null,
    notes: [],
    order: [],
    head: { name: id },
    pieces: [],
    play_head: {},
    play_pieces: [],
    ...more,
  }) as unknown as KitState;

const level = (level_db: number): Edit => ({
  kind: 'set_channel',
  channel: 'main',
  level_db,
});
const { useKit } = await import('./kitStore');
const { useKeeping } = await import('../../ui/gestures');

/** The next request, waited for. */
const next = (): Promise<Asked> =>
  vi.waitFor(() => {
    const one = asked.shift();
    if (!one) throw new Error('nothing was asked');
    return one;
  });

async function opened(id: string, version: number) {
  const opening = useKit.getState().open(id);
  (await next()).answer(state(id, version));
  await opening;
}

beforeEach(async () => {
  vi.stubGlobal('fetch', fetched);
  asked = [];
  useKeeping.setState({ away: '' });
  useKit.getState().close();
});

describe('edits', () => {
  it('go one at a time, each against the version the last answer gave', async () => {
    await opened('a', 3);
    const done = [useKit.getState().edit(level(-1)), useKit.getState().edit(level(-2))];
    const first = await next();
    expect(asked).toHaveLength(0); // the second waits for the first's answer
    expect(first.body).toMatchObject({ base_version: 3, edit: { level_db: -1 } });
    first.answer(state('a', 4));
    const second = await next();
    expect(second.body).toMatchObject({ base_version: 4, edit: { level_db: -2 } });
    second.answer(state('a', 5));
    expect(await Promise.all(done)).toEqual([null, null]);
    expect(useKit.getState().kit?.version).toBe(5);
  });

  it('of one gesture send only the latest that waits, and all are answered', async () => {
    await opened('a', 1);
    const done = [-1, -2, -3].map((db) => useKit.getState().edit(level(db), 'drag'));
    const first = await next();
    first.answer(state('a', 2));
    expect(first.body.edit).toMatchObject({ level_db: -3 });
    expect(await Promise.all(done)).toEqual([null, null, null]);
    expect(asked).toHaveLength(0);
  });

  it('of a kit that ships go on in the copy that was made for the first, and nothing of it is lost', async () => {
    await opened('shipped', 2);
    const done = [-1, -2].map((db) => useKit.getState().edit(level(db)));
    const first = await next();
    const copy = { order: ['kick'], copied: 'This is a copy of your own.' };
    first.answer(state('copy', 2, copy));
    const second = await next();
    expect(second.path).toBe('/kits/copy/edits');
    expect(second.body).toMatchObject({ base_version: 2, edit: { level_db: -2 } });
    second.answer(state('copy', 3, { order: ['kick'] }));
    await Promise.all(done);
    expect(useKit.getState()).toMatchObject({ kit: { id: 'copy', version: 3 }, copied: 'This is a copy of your own.' });
    // Left before the answer came, the copy is not opened behind somebody's back.
    await opened('shipped', 2);
    const late = useKit.getState().edit(level(-3));
    const third = await next();
    await opened('b', 9);
    third.answer(state('another', 2, copy));
    await late;
    expect(useKit.getState()).toMatchObject({ kit: { id: 'b', version: 9 }, copied: null });
  });

  it('that are stale are not sent again: the version that stands is shown, and why', async () => {
    await opened('a', 1);
    const done = useKit.getState().edit(level(-1));
    (await next()).answer({ detail: 'Changed elsewhere.', current: 7 }, 409);
    (await next()).answer(state('a', 7, { order: ['kick'] }));
    expect((await done)?.status).toBe(409);
    expect(useKit.getState().kit?.version).toBe(7);
    expect(useKit.getState().trouble).toBe('Changed elsewhere.');
  });

  it('made before a kit is left still reach it, and its answers are not taken for those of the next', async () => {
    await opened('a', 1);
    const done = [useKit.getState().edit(level(-1)), useKit.getState().edit(level(-2))];
    const first = await next();
    const opening = useKit.getState().open('b');
    (await next()).answer(state('b', 20));
    await opening;
    first.answer(state('a', 2, { order: ['of a'] }));
    const second = await next();
    expect(second.path).toBe('/kits/a/edits');
    expect(second.body).toMatchObject({ base_version: 2, edit: { level_db: -2 } });
    second.answer(state('a', 3));
    expect(await Promise.all(done)).toEqual([null, null]);
    expect(useKit.getState().kit).toMatchObject({ id: 'b', version: 20, order: [] });
  });

  it('are refused at once where no kit is open', async () => {
    expect((await useKit.getState().edit(level(0)))?.message).toBe('No kit is open.');
  });
});

describe('undo', () => {
  it('waits for the edits before it, and does nothing where there is nothing to undo', async () => {
    await opened('a', 1);
    void useKit.getState().edit(level(-1));
    void useKit.getState().undo();
    (await next()).answer(state('a', 2));
    const undo = await next();
    expect([undo.path, undo.body]).toEqual(['/kits/a/undo', { base_version: 2 }]);
    undo.answer(state('a', 1, { undo: null }));
    await useKit.getState().undo();
    expect(asked).toHaveLength(0);
  });
});

describe('while the studio is away', () => {
  it('edits wait, are kept over a reload, and are made in order when it is back, none of them twice', async () => {
    await opened('a', 3);
    const done = [useKit.getState().edit(level(-1)), useKit.getState().edit(level(-2))];
    const first = await next();
    first.fail();
    await vi.waitFor(() => expect(useKeeping.getState()).toMatchObject({ away: 'gone', waiting: 2, keeping: true }));
    const kept = JSON.parse(session.get('zesty-waiting') ?? '[]') as { base: number; mark: string; edit: Edit }[];
    expect(kept.map((k) => [k.base, k.edit])).toEqual([
      [3, level(-1)],
      [3, level(-2)],
    ]);
    const back = useKit.getState().resume();
    const again = await next();
    expect(again.body).toMatchObject({ base_version: 3, edit: { level_db: -1 } });
    expect(again.body.mark).toBe(first.body.mark);
    again.answer(state('a', 4));
    const second = await next();
    expect(second.body).toMatchObject({ base_version: 4, edit: { level_db: -2 } });
    expect(second.body.mark).not.toBe(first.body.mark);
    second.answer(state('a', 5));
    await back;
    expect(await Promise.all(done)).toEqual([null, null]);
    expect(useKeeping.getState()).toMatchObject({ waiting: 0, keeping: false });
    expect(session.has('zesty-waiting')).toBe(false);
  });

  it('of a drag, what was sent stays though more of it comes: it may have been made', async () => {
    await opened('a', 3);
    void useKit.getState().edit(level(-1), 'drag');
    (await next()).fail();
    await vi.waitFor(() => expect(useKeeping.getState().away).toBe('gone'));
    // More of the drag goes on its way, and is not heard of either.
    const more = [useKit.getState().edit(level(-2), 'drag'), useKit.getState().edit(level(-3), 'drag')];
    const again = await next();
    expect(again.body).toMatchObject({ base_version: 3, edit: { level_db: -1 } });
    again.answer(state('a', 4));
    const latest = await next();
    expect(latest.body).toMatchObject({ base_version: 4, edit: { level_db: -3 } });
    latest.answer(state('a', 5));
    expect(await Promise.all(more)).toEqual([null, null]);
  });

  it('what was kept before a reload is sent once its kit is open, against what it was made against', async () => {
    vi.resetModules();
    session.set(
      'zesty-waiting',
      JSON.stringify([
        { kit: 'a', edit: level(-5), gesture: '', mark: 'm1', base: 6 },
        { kit: 'a', edit: level(-6), gesture: '', mark: 'm2', base: 6 },
      ]),
    );
    const { useKit: fresh } = await import('./kitStore');
    const opening = fresh.getState().open('a');
    (await next()).answer(state('a', 9));
    await opening;
    const first = await next();
    expect(first.body).toMatchObject({ base_version: 6, edit: { level_db: -5 }, mark: 'm1' });
    first.answer(state('a', 10));
    const second = await next();
    expect(second.body).toMatchObject({ base_version: 10, edit: { level_db: -6 }, mark: 'm2' });
    second.answer(state('a', 11));
    await vi.waitFor(() => expect(session.has('zesty-waiting')).toBe(false));
  });

  it('a full disk makes edits wait as well, and says so', async () => {
    await opened('a', 1);
    void useKit.getState().edit(level(-1));
    (await next()).answer({ detail: 'There is no room left.' }, 507);
    await vi.waitFor(() => expect(useKeeping.getState()).toMatchObject({ away: 'full', waiting: 1 }));
    void useKit.getState().resume();
    (await next()).answer(state('a', 2));
    await vi.waitFor(() => expect(useKeeping.getState().waiting).toBe(0));
  });

  it('a kit that could not be opened is opened when it is back', async () => {
    const opening = useKit.getState().open('a');
    (await next()).fail();
    await opening;
    expect(useKit.getState()).toMatchObject({ wanted: 'a', missing: null, kit: null });
    const back = useKit.getState().resume();
    (await next()).answer(state('a', 4));
    await back;
    expect(useKit.getState()).toMatchObject({ wanted: null, kit: { version: 4 } });
  });
});

describe('another tab', () => {
  it('is followed, unless something of ours is on its way', async () => {
    await opened('a', 4);
    await useKit.getState().follow('a', 4);
    await useKit.getState().follow('b', 9);
    expect(asked).toHaveLength(0);
    const following = useKit.getState().follow('a', 6);
    const whole = await next();
    await useKit.getState().follow('a', 6);
    expect(asked).toHaveLength(0); // once at a time
    whole.answer(state('a', 6, { order: ['kick'] }));
    await following;
    expect(useKit.getState().kit).toMatchObject({ version: 6, order: ['kick'] });
    void useKit.getState().edit(level(-1));
    const ours = await next();
    await useKit.getState().follow('a', 7);
    expect(asked).toHaveLength(0);
    ours.answer(state('a', 8));
    await vi.waitFor(() => expect(useKit.getState().kit?.version).toBe(8));
  });

  it('never puts back what was undone while the kit was on its way', async () => {
    await opened('a', 4);
    void useKit.getState().edit(level(-1));
    (await next()).answer(state('a', 5));
    await vi.waitFor(() => expect(useKit.getState().kit?.version).toBe(5));
    const following = useKit.getState().follow('a', 4); // asked before the edit, answered after it
    const slow = await next();
    const undone = useKit.getState().undo();
    (await next()).answer(state('a', 4));
    await undone;
    slow.answer(state('a', 5));
    await following;
    expect(useKit.getState().kit?.version).toBe(4);
    // Nor is what comes next made to what does not stand.
    void useKit.getState().edit(level(-2));
    expect((await next()).body.base_version).toBe(4);
  });
});
