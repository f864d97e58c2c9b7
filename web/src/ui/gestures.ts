/** What hands do to a kit: whether any of it is still on its way to the studio, and a name for each drag. */
import { create } from 'zustand';

/** Told by whoever sends edits: whether any is being kept, how many wait, and what they wait for. */
export const useKeeping = create<{ keeping: boolean; waiting: number; away: '' | 'gone' | 'full' }>(() => ({
  keeping: false,
  waiting: 0,
  away: '',
}));

let gestures = 0;
/** A name for one drag, so that one undo takes it back whole. */
export const newGesture = (kind: string) => {
  gestures += 1;
  return `${kind} ${Date.now().toString(36)}.${gestures}`.slice(0, 40);
};
