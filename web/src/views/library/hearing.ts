/** Plays previews: one at a time; two versions of a kit continue at the same position. */
import { create } from 'zustand';
import { type PreviewItem, type PreviewShown, post } from '../../api/calls';

const AGAIN_MS = 700;

export const keyOfItem = ({ kind, id, version = 0 }: PreviewItem) => `${kind}/${id}@${version}`;
const addressOf = (preview: PreviewShown) => `/api/library/previews/${preview.key}`;

interface Hearing {
  item: PreviewItem | null;
  name: string;
  running: boolean;
  /** In seconds. */
  at: number;
  length: number;
  /** Why nothing is heard. */
  trouble: string | null;
  play: (preview: PreviewShown, name: string, keepPlace?: boolean) => Promise<void>;
  seek: (share: number) => void;
  stop: () => void;
}

let sound: HTMLAudioElement | null = null;

/** The library's one audio element, made on first use. */
function soundOf(set: (change: Partial<Hearing>) => void): HTMLAudioElement {
  if (sound) return sound;
  const made = new Audio();
  made.preload = 'auto';
  made.addEventListener('timeupdate', () => set({ at: made.currentTime }));
  made.addEventListener('loadedmetadata', () => set({ length: made.duration }));
  made.addEventListener('ended', () => set({ running: false, at: 0 }));
  made.addEventListener('pause', () => set({ running: false }));
  made.addEventListener('playing', () => set({ running: true, trouble: null }));
  made.addEventListener('error', () =>
    set({ running: false, trouble: 'The preview could not be loaded; try again when the studio is back.' }),
  );
  sound = made;
  return made;
}

export const useHearing = create<Hearing>((set, read) => ({
  item: null,
  name: '',
  running: false,
  at: 0,
  length: 0,
  trouble: null,
  play: async (preview, name, keepPlace = false) => {
    const made = soundOf(set);
    const place = keepPlace ? made.currentTime : 0;
    const { item } = read();
    if (!item || keyOfItem(item) !== keyOfItem(preview.item) || !made.src.endsWith(addressOf(preview))) {
      made.src = addressOf(preview);
    }
    made.currentTime = place;
    set({ item: preview.item, name, length: preview.seconds, trouble: null });
    try {
      await made.play();
    } catch (error) {
      if ((error as Error).name === 'AbortError') return;
      const refused = (error as Error).name === 'NotAllowedError';
      set({
        running: false,
        trouble: refused ? 'The browser blocked the sound; press play again.' : null,
      });
    }
  },
  seek: (share) => {
    if (sound && Number.isFinite(sound.duration)) sound.currentTime = share * sound.duration;
  },
  stop: () => {
    sound?.pause();
    if (sound) sound.currentTime = 0;
    set({ running: false, at: 0 });
  },
}));

/** Whether an item is being heard. */
export const isHeard = (hearing: Pick<Hearing, 'item' | 'running'>, item: PreviewItem) =>
  hearing.running && hearing.item !== null && keyOfItem(hearing.item) === keyOfItem(item);

interface Previews {
  known: Map<string, PreviewShown>;
}

export const usePreviews = create<Previews>(() => ({ known: new Map() }));

/** Items only scrolled past are not worth a preview. */
const LOOKED_AT_MS = 1000;

const wanted = new Map<string, { item: PreviewItem; by: number; since: number }>();
/** Items requested since they became visible; an earlier preview may be outdated. */
const asked = new Set<string>();
let timer: ReturnType<typeof setTimeout> | null = null;

/** Whether a preview still has to be requested. */
const isOpen = (key: string) => {
  const state = usePreviews.getState().known.get(key)?.state;
  return !asked.has(key) || (state !== 'ready' && state !== 'none');
};

async function ask() {
  timer = null;
  const open = [...wanted.entries()].filter(([key]) => isOpen(key));
  const stays = (since: number) => Date.now() - since >= LOOKED_AT_MS;
  for (const make of [false, true]) {
    const items = open.filter(([, { since }]) => stays(since) === make).map(([, { item }]) => item);
    if (items.length) await look(items.slice(0, 60), make);
  }
  soon();
}

async function look(items: PreviewItem[], make: boolean) {
  try {
    const found = await post('/api/library/previews', {}, { items, make });
    const known = new Map(usePreviews.getState().known);
    for (const preview of found) {
      known.set(keyOfItem(preview.item), preview);
      asked.add(keyOfItem(preview.item));
    }
    usePreviews.setState({ known });
  } catch {
    // Connection errors are reported elsewhere; the request is repeated.
  }
}

function soon() {
  if (timer === null && [...wanted.keys()].some(isOpen))
    timer = setTimeout(() => void ask(), asked.size ? AGAIN_MS : 0);
}

/** Requests an item's preview while it is visible, until it exists; returns a function that ends it. */
export function want(item: PreviewItem): () => void {
  const key = keyOfItem(item);
  const there = wanted.get(key) ?? { item, by: 0, since: Date.now() };
  there.by += 1;
  wanted.set(key, there);
  if (timer === null) timer = setTimeout(() => void ask(), 60);
  return () => {
    there.by -= 1;
    if (there.by > 0) return;
    wanted.delete(key);
    asked.delete(key);
  };
}

/** Request all visible previews again, after a change. */
export function lookAgain() {
  asked.clear();
  soon();
}
