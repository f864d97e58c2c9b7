/** Teaching as it goes: each lesson is an undo of its own, an answer is waited for where it is needed, refusals stay. */
import { beforeEach, expect, it, vi } from 'vitest';
import type { Lesson, TeachingHeard } from '../../api/calls';

const edits: { edit: object; gesture: string }[] = [];
let refusal: { message: string } | null = null;
vi.mock('../../app/kit/kitStore', () => ({
  useKit: {
    getState: () => ({
      edit: async (edit: object, gesture: string) => {
        edits.push({ edit, gesture });
        return refusal;
      },
    }),
  },
}));
const { answerWanted, keep, useTeaching } = await import('./teachingState');

const lessons = ['kick/centre', 'snare/centre'].map((articulation) => ({ articulation }) as Lesson);
const heard = (articulation: string, note: number, clash: string[] = [], plays: string[] = []) =>
  ({
    taught: { articulation, note, openness: null },
    edit: { kind: 'teach_note', articulation, note },
    clash,
    plays,
  }) as unknown as TeachingHeard;

beforeEach(() => {
  edits.length = 0;
  refusal = null;
  useTeaching.getState().begin(lessons, 0, true);
});

it('takes good strikes one after another, each undone by itself', async () => {
  for (const [k, lesson] of lessons.entries()) {
    useTeaching.setState({ heard: heard(lesson.articulation, 36 + k) });
    await keep('take_over');
  }
  expect(edits.map(({ edit }) => edit)).toMatchObject([
    { note: 36, when_occupied: 'take_over' },
    { note: 37, when_occupied: 'take_over' },
  ]);
  expect(new Set(edits.map(({ gesture }) => gesture)).size).toBe(2);
  expect(useTeaching.getState()).toMatchObject({ at: 2, heard: null });
  expect(useTeaching.getState().taught.map(({ note }) => note)).toEqual([36, 37]);
});

it('taught again, an articulation forgets what was taught before', async () => {
  for (const note of [36, 60]) {
    useTeaching.setState({ at: 0, heard: heard('kick/centre', note) });
    await keep('take_over');
  }
  expect(useTeaching.getState().taught.map(({ note }) => note)).toEqual([60]);
});

it('waits for an answer where a pad was hit twice, or where one articulation alone is taught', () => {
  expect(answerWanted()).toBe(false);
  useTeaching.setState({ heard: heard('kick/centre', 36) });
  expect(answerWanted()).toBe(false);
  useTeaching.setState({ heard: heard('kick/centre', 36, ['Snare · centre']) });
  expect(answerWanted()).toBe(true);
  useTeaching.getState().begin(lessons, 0, false);
  useTeaching.setState({ heard: heard('kick/centre', 36) });
  expect(answerWanted()).toBe(true);
});

it('asks before a note is taken from what it plays, until told not to', async () => {
  useTeaching.setState({ heard: heard('kick/centre', 36, [], ['Rack tom · centre']) });
  expect(answerWanted()).toBe(true);
  useTeaching.setState({ unasked: true });
  expect(answerWanted()).toBe(false);
  useTeaching.setState({ heard: heard('kick/centre', 36, ['Snare · centre'], ['Snare · centre']) });
  expect(answerWanted()).toBe(true);
  useTeaching.getState().begin(lessons, 0, true);
  expect(useTeaching.getState().unasked).toBe(false);
});

it('says what was refused, and stays where it was', async () => {
  refusal = { message: 'That kit was changed elsewhere.' };
  useTeaching.setState({ heard: heard('kick/centre', 36) });
  await keep('take_over');
  expect(useTeaching.getState()).toMatchObject({ trouble: refusal.message, at: 0, taught: [] });
  useTeaching.setState({ heard: null });
  await keep('stack');
  expect(edits).toHaveLength(1);
});
