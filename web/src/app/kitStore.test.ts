/** Edits on their way: one at a time, in order, a drag's only the latest, to the kit they were made in. */
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { Edit, KitState } from '../api/calls';

vi.mock('../player/player', () => ({
  Player: class {
    sounds = { ease: () => undefined };
    strips = Promise.resolve();
    onStrike = () => undefined;
    update = () => undefined;
    close = () => undefined;
    solo = () => undefined;
  },
}));
vi.stubGlobal('window', { requestIdleCallback: (then: () => void) => queueMicrotask(then) });

interface Asked {
  path: string;
  body: { base_version: number; edit?: Edit; gesture?: string };
  answer: (state: Partial<KitState> | { detail: string; current?: number }, status?: number) => void;
}

let asked: Asked[] = [];

/** A studio that answers when it is told to. */
function fetched(path: string, init?: RequestInit): Promise<Response> {
  return new Promise((resolve) => {
    const body = init?.body ? JSON.parse(String(init.body)) : {};
    const answer: Asked['answer'] = (state, status = 200) => resolve(new Response(JSON.stringify(state), { status }));
    asked.push({ path: path.replace('/api', ''), body, answer });
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

const level = (level_db: number): Edit => ({ kind: 'set_main_level', level_db });
const { useKit } = await import('./kitStore');

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
