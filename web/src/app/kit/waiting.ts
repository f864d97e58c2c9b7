/** Edits on their way, kept across a reload until the studio has saved them. */
import type { Edit } from '../../api/calls';

/** A waiting edit, undo or redo; they are sent one by one in order. */
export interface Waiting {
  kit: string;
  edit: Edit | 'undo' | 'redo';
  gesture: string;
  /** Identifies this edit: a repeated request makes it only once. */
  mark: string;
  /** The version it was made against, if that was before a reload; else the kit's last known version. */
  base?: number;
}

const KEY = 'zesty-waiting';
let marks = 0;
export const newMark = () => {
  marks += 1;
  return `${Date.now().toString(36)}-${Math.random().toString(36).slice(2, 10)}-${marks}`;
};

/** For this tab only; other tabs keep their own. */
export function remember(waiting: readonly Waiting[], baseOf: (kit: string) => number | undefined) {
  try {
    if (!waiting.length) return sessionStorage.removeItem(KEY);
    const kept = waiting.map(({ kit, edit, gesture, mark, base }) => ({
      kit,
      edit,
      gesture,
      mark,
      base: base ?? baseOf(kit),
    }));
    sessionStorage.setItem(KEY, JSON.stringify(kept));
  } catch {
    // If the browser has no room, they still wait in memory.
  }
}

export function remembered(): Waiting[] {
  try {
    const found = JSON.parse(sessionStorage.getItem(KEY) ?? '[]');
    return Array.isArray(found) ? found : [];
  } catch {
    return [];
  }
}
