import { describe, expect, test } from 'vitest';
import { doneSteps, nextStep } from './steps';

const NEITHER = { rehearsal: false, delivery: false };
const finding = (step: string, level = 'worth_a_look', ignored = false) => ({ where: { step }, level, ignored });

describe('the steps', () => {
  test('are done where something was made and nothing stands open', () => {
    const made = ['recordings', 'layers', 'notes'];
    expect([...doneSteps(made, [], NEITHER)]).toEqual(made);
    expect([...doneSteps(made, [finding('layers')], { rehearsal: true, delivery: false })]).toEqual([
      'recordings',
      'notes',
      'rehearsal',
    ]);
    expect([...doneSteps(made, [finding('layers', 'information'), finding('notes', 'wrong', true)], NEITHER)]).toEqual(
      made,
    );
    expect([...doneSteps([], [], NEITHER)]).toEqual([]);
  });

  test('lead to the one that follows, and nowhere from the last', () => {
    expect(nextStep('layers')?.id).toBe('notes');
    expect(nextStep('delivery')).toBeNull();
  });
});
