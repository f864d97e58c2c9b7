/** Edits in progress: whether any is still being saved, and an id for each drag. */
import { create } from 'zustand';

/** Set by the kit store: whether edits are being saved, how many wait, and why. */
export const useKeeping = create<{ keeping: boolean; waiting: number; away: '' | 'gone' | 'full' }>(() => ({
  keeping: false,
  waiting: 0,
  away: '',
}));

let gestures = 0;
/** An id for one drag, so that one undo takes it back whole. */
export const newGesture = (kind: string) => {
  gestures += 1;
  return `${kind} ${Date.now().toString(36)}.${gestures}`.slice(0, 40);
};
