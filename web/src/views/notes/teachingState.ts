/** The state of teaching: the lessons, the current one, what was heard. */

import { create } from 'zustand';
import type { Lesson, Taught, TeachingHeard } from '../../api/calls';
import { useKit } from '../../app/kit/kitStore';
import { newGesture } from '../../ui/gestures';

interface TeachingState {
  lessons: Lesson[] | null;
  at: number;
  /** All in turn: clear strikes are accepted without asking. */
  row: boolean;
  taught: Taught[];
  heard: TeachingHeard | null;
  trouble: string | null;
  /** For a moment after a strike was accepted nothing counts: pads ring, and flams and cross-talk come late. */
  resting: boolean;
  /** In a row: notes that play something else are taken without asking, since somebody said so. */
  unasked: boolean;
  begin: (lessons: Lesson[], at: number, row: boolean) => void;
  go: (to: number) => void;
  end: () => void;
}

export const useTeaching = create<TeachingState>((set) => ({
  lessons: null,
  at: 0,
  row: false,
  taught: [],
  heard: null,
  trouble: null,
  resting: false,
  unasked: false,
  begin: (lessons, at, row) => set({ lessons, at, row, taught: [], heard: null, trouble: null, unasked: false }),
  go: (at) => set({ at, heard: null, trouble: null }),
  end: () => set({ lessons: null, heard: null, trouble: null }),
}));

/** Whether what was heard is taken only after an answer: its pad was taught before, its note plays something else, or a
 * single articulation is taught. */
export function mustAsk(heard: TeachingHeard | null, row: boolean, unasked: boolean): boolean {
  return Boolean(heard?.taught && (heard.clash.length || !row || (heard.plays.length && !unasked)));
}

/** While a question is open, the next strike is only heard: it may be the player waiting. */
export function answerWanted(): boolean {
  const { heard, row, unasked } = useTeaching.getState();
  return mustAsk(heard, row, unasked);
}

/** Save what was heard, as one step of undo, and go on. */
export async function keep(occupied: 'take_over' | 'stack') {
  const { heard, at, taught } = useTeaching.getState();
  if (!heard?.edit || !heard.taught) return;
  const edit = { ...heard.edit, when_occupied: occupied };
  const refused = await useKit.getState().edit(edit, newGesture('teach'));
  if (refused) {
    useTeaching.setState({ trouble: refused.message });
    return;
  }
  const rest = taught.filter((t) => t.articulation !== heard.taught?.articulation);
  useTeaching.setState({ taught: [...rest, heard.taught], at: at + 1, heard: null, trouble: null });
  if (!useTeaching.getState().row) useTeaching.getState().end();
}
