/**
 * Whether the studio responds, and whether the kit was changed elsewhere: polled twice a second while the page is
 * visible.
 */
import { useKeeping } from '../../ui/gestures';
import { useKit } from './kitStore';
import { queries } from './queries';

const EVERY_MS = 500;
const PATIENCE_MS = 2500;

let tag = '';
let of = '';
let stood: number | null = null;

/** One poll: the kit's version, null if not asked; throws if nothing responds. */
async function look(kit: string | undefined): Promise<number | null> {
  const signal = AbortSignal.timeout(PATIENCE_MS);
  if (!kit) {
    const response = await fetch('/api/alive', { signal });
    if (response.status >= 500) throw new Error(`${response.status}`);
    return null;
  }
  const headers = of === kit && tag ? { 'If-None-Match': tag } : undefined;
  const response = await fetch(`/api/kits/${encodeURIComponent(kit)}/version`, { signal, ...(headers && { headers }) });
  if (response.status >= 500) throw new Error(`${response.status}`);
  // The version may be unchanged and still not shown, if an edit overtook the last refresh.
  if (response.status === 304) return stood;
  if (!response.ok) return null;
  const { version } = (await response.json()) as { version: number };
  of = kit;
  tag = response.headers.get('ETag') ?? '';
  stood = version;
  return version;
}

async function beat() {
  const kit = useKit.getState().kit?.id ?? useKit.getState().wanted ?? undefined;
  let version: number | null;
  try {
    version = await look(kit);
  } catch {
    useKeeping.setState({ away: 'gone' });
    return;
  }
  if (useKeeping.getState().away) {
    await useKit.getState().resume();
    // Without room to save them, edits keep waiting although the studio responds.
    if (useKeeping.getState().waiting) return;
    useKeeping.setState({ away: '' });
    void queries.invalidateQueries();
    return; // The edits were sent after the poll, so its version is out of date.
  }
  // Not awaited: if the studio hangs within this request, the next poll must notice.
  if (version !== null && kit) void useKit.getState().follow(kit, version);
}

/** Start polling; returns a function that stops it. */
export function startFollowing(): () => void {
  let going = false;
  const timer = setInterval(() => {
    if (going || document.visibilityState !== 'visible') return;
    going = true;
    void beat().finally(() => {
      going = false;
    });
  }, EVERY_MS);
  const leaving = (event: BeforeUnloadEvent) => {
    if (useKeeping.getState().away && useKeeping.getState().waiting) event.preventDefault();
  };
  window.addEventListener('beforeunload', leaving);
  return () => {
    clearInterval(timer);
    window.removeEventListener('beforeunload', leaving);
  };
}
