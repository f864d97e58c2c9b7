/** Whether the studio answers, and what another tab did: looked for while the page is seen. */
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';

const kit = {
  kit: { id: 'a' } as { id: string } | null,
  wanted: null as string | null,
  resume: vi.fn(),
  follow: vi.fn(),
};
const invalidated = vi.fn();
vi.mock('./kitStore', () => ({ useKit: { getState: () => kit } }));
vi.mock('./queries', () => ({ queries: { invalidateQueries: invalidated } }));
vi.stubGlobal('document', { visibilityState: 'visible' });
const listeners = new Map<string, (event: { preventDefault: () => void }) => void>();
vi.stubGlobal('window', {
  addEventListener: (name: string, listener: () => void) => listeners.set(name, listener),
  removeEventListener: (name: string) => listeners.delete(name),
});

const { startFollowing } = await import('./following');
const { useKeeping } = await import('../../ui/gestures');

let asked: { path: string; tag: string | undefined }[] = [];
let answer: () => Response | Promise<Response>;
let stop: () => void;

beforeEach(() => {
  vi.useFakeTimers();
  asked = [];
  Object.assign(kit, { kit: { id: 'a' }, wanted: null, resume: vi.fn(), follow: vi.fn() });
  invalidated.mockClear();
  useKeeping.setState({ keeping: false, waiting: 0, away: '' });
  Object.assign(document, { visibilityState: 'visible' });
  vi.stubGlobal('fetch', async (path: string, init: { headers?: Record<string, string> }) => {
    asked.push({ path, tag: init.headers?.['If-None-Match'] });
    return answer();
  });
  answer = () => new Response(JSON.stringify({ version: 7 }), { headers: { ETag: '"7"' } });
  stop = startFollowing();
});
afterEach(() => {
  stop();
  vi.useRealTimers();
});

const beats = (count: number) => vi.advanceTimersByTimeAsync(500 * count);

describe('following', () => {
  it('asks twice a second for the version that stands, by the tag it knows, and takes another one in', async () => {
    await beats(1);
    expect(kit.follow).toHaveBeenLastCalledWith('a', 7);
    answer = () => new Response(null, { status: 304 });
    await beats(2);
    expect(asked.slice(-2)).toEqual([
      { path: '/api/kits/a/version', tag: '"7"' },
      { path: '/api/kits/a/version', tag: '"7"' },
    ]);
    // Whether it is shown already is the kit's to know: what came last may have been overtaken.
    expect(kit.follow.mock.calls).toEqual(Array(3).fill(['a', 7]));
    expect(useKeeping.getState().away).toBe('');
  });

  it('of another kit asks anew, and without one only whether anybody answers', async () => {
    await beats(1);
    kit.kit = { id: 'b' };
    await beats(1);
    expect(asked.at(-1)).toEqual({ path: '/api/kits/b/version', tag: undefined });
    kit.kit = null;
    answer = () => new Response(null, { status: 204 });
    await beats(1);
    expect(asked.at(-1)?.path).toBe('/api/alive');
  });

  it('rests while nobody sees the page, and while an answer is still to come', async () => {
    Object.assign(document, { visibilityState: 'hidden' });
    await beats(4);
    expect(asked).toEqual([]);
    Object.assign(document, { visibilityState: 'visible' });
    answer = () => new Promise(() => undefined);
    await beats(3);
    expect(asked).toHaveLength(1);
  });

  it.each([
    ['nobody answers', () => Promise.reject(new TypeError('Failed to fetch'))],
    ['something in between answers for it', () => new Response(null, { status: 502 })],
  ])('says that the studio is away when %s, and sends what waits when it is back', async (_, gone) => {
    answer = gone as () => Response;
    await beats(1);
    expect(useKeeping.getState().away).toBe('gone');
    expect(kit.resume).not.toHaveBeenCalled();
    answer = () => new Response(null, { status: 304 });
    await beats(1);
    expect(kit.resume).toHaveBeenCalledTimes(1);
    expect(useKeeping.getState().away).toBe('');
    expect(invalidated).toHaveBeenCalledTimes(1);
  });

  it('says that the studio is away though it stood still while a version made elsewhere was on its way', async () => {
    kit.follow.mockImplementation(() => new Promise(() => undefined));
    await beats(1);
    answer = () => Promise.reject(new TypeError('Failed to fetch'));
    await beats(1);
    expect(useKeeping.getState().away).toBe('gone');
  });

  it('takes nothing in by the look that found the studio back: what waited was sent after it', async () => {
    useKeeping.setState({ away: 'gone' });
    await beats(1);
    expect(kit.follow).not.toHaveBeenCalled();
    await beats(1);
    expect(kit.follow).toHaveBeenCalledTimes(1);
  });

  it('does not say that all is well while edits still find no room', async () => {
    useKeeping.setState({ away: 'full', waiting: 2 });
    await beats(2);
    expect(kit.resume).toHaveBeenCalledTimes(2);
    expect(useKeeping.getState().away).toBe('full');
    kit.resume.mockImplementation(() => useKeeping.setState({ waiting: 0 }));
    await beats(1);
    expect(useKeeping.getState().away).toBe('');
  });

  it('asks before a page is left that edits wait in', () => {
    const event = { preventDefault: vi.fn() };
    listeners.get('beforeunload')?.(event);
    expect(event.preventDefault).not.toHaveBeenCalled();
    useKeeping.setState({ away: 'gone', waiting: 1 });
    listeners.get('beforeunload')?.(event);
    expect(event.preventDefault).toHaveBeenCalledTimes(1);
  });
});
