/** What is picked up to be put on a note: an articulation, or everything a note plays. */
import { create } from 'zustand';
import type { Edit } from '../../api/calls';
import { useKit } from '../../app/kit/kitStore';

export type PickedUp = { articulation: string; from: number | null } | { articulation: null; from: number };
type Answer = 'stack' | 'take_over' | 'change_places';
type Put = Extract<Edit, { kind: 'put_on_note' | 'move_note' }>;

interface Holding {
  held: PickedUp | null;
  selected: number | null;
  /** An articulation put on an occupied note, until the user says what to do. */
  asking: { edit: Put; sentence: string } | null;
  hold: (held: PickedUp | null) => void;
  select: (note: number | null) => void;
  put: (held: PickedUp, note: number, answer?: Answer | null) => Promise<void>;
  answer: (answer: Answer | null) => void;
}

export const useHolding = create<Holding>((set, read) => ({
  held: null,
  selected: null,
  asking: null,
  hold: (held) => set({ held }),
  select: (selected) => set({ selected }),
  put: async (held, note, answer = null) => {
    const edit: Put =
      held.articulation !== null
        ? { kind: 'put_on_note', articulation: held.articulation, note, from_note: held.from, when_occupied: answer }
        : { kind: 'move_note', note: held.from, to: note, when_occupied: answer };
    const refused = await useKit.getState().edit(edit);
    if (refused?.occupied) set({ asking: { edit, sentence: refused.message } });
    else set({ held: null });
    set({ selected: note });
  },
  answer: (answer) => {
    const { asking } = read();
    set({ asking: null, held: null });
    if (asking && answer) void useKit.getState().edit({ ...asking.edit, when_occupied: answer });
  },
}));

/** The answer given in advance by a modifier: Shift stacks, Ctrl replaces, Alt swaps. */
export const answerOf = (keys: { shift: boolean; ctrl: boolean; alt: boolean }): Answer | null =>
  keys.shift ? 'stack' : keys.ctrl ? 'take_over' : keys.alt ? 'change_places' : null;
