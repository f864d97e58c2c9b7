import { describe, expect, test } from 'vitest';
import { doneSteps, nextStep, useLookedAtSteps } from './steps';

const finding = (step: string, level = 'worth_a_look', ignored = false) => ({ where: { step }, level, ignored });
const MADE = ['recordings', 'layers', 'notes', 'touch', 'routing'];

describe('a step is done', () => {
  test('only if somebody looked at it: making pieces alone does none', () => {
    expect([...doneSteps(MADE, [], [], false)]).toEqual([]);
    expect([...doneSteps(MADE, ['recordings', 'touch'], [], false)]).toEqual(['recordings', 'touch']);
  });

  test('only if it has results', () => {
    expect([...doneSteps(['recordings'], MADE, [], false)]).toEqual(['recordings']);
  });

  test('only if it has no open finding; ignored and informative ones are not open', () => {
    const open = [finding('layers'), finding('notes', 'information'), finding('touch', 'wrong', true)];
    expect([...doneSteps(MADE, MADE, open, false)]).toEqual(['recordings', 'notes', 'touch', 'routing']);
  });

  test('in Rehearsal after a groove, in Delivery after an export', () => {
    expect([...doneSteps([], ['rehearsal', 'delivery'], [], false)]).toEqual(['rehearsal']);
    expect([...doneSteps([], [], [], true)]).toEqual(['delivery']);
  });
});

test('steps looked at are kept for each kit', () => {
  const { look } = useLookedAtSteps.getState();
  look('a', 'notes');
  look('b', 'touch');
  look('a', 'notes');
  look('a', 'layers');
  expect(useLookedAtSteps.getState().kits).toEqual({ b: ['touch'], a: ['notes', 'layers'] });
});

test('the next step follows, and none follows the last', () => {
  expect(nextStep('layers')?.id).toBe('notes');
  expect(nextStep('delivery')).toBeNull();
});
