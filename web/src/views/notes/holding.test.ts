/** What is picked up and put on a note: asked about where the note is taken, let go of when it is done. */
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { Edit } from '../../api/calls';

let refusal: { occupied: boolean; message: string } | null = null;
const edits: Edit[] = [];
vi.mock('../../app/kit/kitStore', () => ({
  useKit: {
    getState: () => ({
      edit: async (edit: Edit) => {
        edits.push(edit);
        return refusal;
      },
    }),
  },
}));
const { answerOf, useHolding } = await import('./holding');

beforeEach(() => {
  refusal = null;
  edits.length = 0;
  useHolding.setState({ held: null, selected: null, asking: null });
});

describe('what is picked up', () => {
  it('is put on a note, which is then looked at, and let go of', async () => {
    const held = { articulation: 'snare/centre', from: 38 };
    useHolding.getState().hold(held);
    await useHolding.getState().put(held, 60);
    expect(edits).toEqual([
      { kind: 'put_on_note', articulation: 'snare/centre', note: 60, from_note: 38, when_occupied: null },
    ]);
    expect(useHolding.getState()).toMatchObject({ held: null, selected: 60, asking: null });
  });

  it('may be everything a note plays', async () => {
    await useHolding.getState().put({ articulation: null, from: 46 }, 60, 'change_places');
    expect(edits).toEqual([{ kind: 'move_note', note: 46, to: 60, when_occupied: 'change_places' }]);
  });

  it('is asked about where the note is taken, and the answer is the same edit with it', async () => {
    refusal = { occupied: true, message: 'D1 plays Snare · centre.' };
    const held = { articulation: 'kick/centre', from: null };
    useHolding.getState().hold(held);
    await useHolding.getState().put(held, 38);
    expect(useHolding.getState()).toMatchObject({ held, asking: { sentence: 'D1 plays Snare · centre.' } });
    refusal = null;
    useHolding.getState().answer('stack');
    expect(edits.at(-1)).toEqual({ ...edits[0], when_occupied: 'stack' });
    expect(useHolding.getState()).toMatchObject({ held: null, asking: null });
  });

  it('stays where it was when the question is put aside', async () => {
    refusal = { occupied: true, message: 'Taken.' };
    await useHolding.getState().put({ articulation: 'kick/centre', from: null }, 38);
    useHolding.getState().answer(null);
    expect(edits).toHaveLength(1);
    expect(useHolding.getState().asking).toBeNull();
  });

  it('is answered for in advance by a modifier, Shift before Ctrl before Alt', () => {
    const keys = { shift: false, ctrl: false, alt: false };
    expect(answerOf(keys)).toBeNull();
    expect(answerOf({ ...keys, alt: true })).toBe('change_places');
    expect(answerOf({ ...keys, ctrl: true, alt: true })).toBe('take_over');
    expect(answerOf({ shift: true, ctrl: true, alt: true })).toBe('stack');
  });
});
