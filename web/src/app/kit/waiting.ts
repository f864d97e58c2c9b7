/** Edits on their way, kept over a reload of the page until the studio has taken them. */
import type { Edit } from '../../api/calls';

/** An edit, an undo or a redo on its way; they are sent one after another, in the order they were asked for. */
export interface Waiting {
  kit: string;
  edit: Edit | 'undo' | 'redo';
  gesture: string;
  /** Names this one edit: asked for again, it is made once. */
  mark: string;
  /** What it was made against, where that was before a reload; else the version the kit stood at last. */
  base?: number;
}

const KEY = 'zesty-waiting';
let marks = 0;
export const newMark = () => {
  marks += 1;
  return `${Date.now().toString(36)}-${Math.random().toString(36).slice(2, 10)}-${marks}`;
};

/** Of this tab: another one keeps its own. */
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
    // Without room to keep them they still wait here.
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
