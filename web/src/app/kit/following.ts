/** Whether the studio answers, and whether a kit was changed elsewhere: asked twice a second while the page is seen. */
import { useKeeping } from '../../ui/gestures';
import { useKit } from './kitStore';
import { queries } from './queries';

const EVERY_MS = 500;
const PATIENCE_MS = 2500;

let tag = '';
let of = '';
let stood: number | null = null;

/** What one look found: the version a kit stands at, null where it is not said; throws where nothing answers. */
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
  // What stands may still not be what is shown, when the last look at it was overtaken by an edit.
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
    // Without room to keep them, edits wait on though the studio answers.
    if (useKeeping.getState().waiting) return;
    useKeeping.setState({ away: '' });
    void queries.invalidateQueries();
    return; // What waited was sent since the look, so the version it found is of before.
  }
  // Not waited for: a studio that stands still within this answer is to be noticed by the next look.
  if (version !== null && kit) void useKit.getState().follow(kit, version);
}

/** Start looking; returns what ends it. */
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
