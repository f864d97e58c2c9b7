// @vitest-environment happy-dom
import { act, cleanup, screen } from '@testing-library/react';
import { afterEach, describe, expect, test } from 'vitest';
import type { Finding, KitState } from '../../api/calls';
import { Refusal, screenOf } from '../../testing/screen';
import { useKit } from '../kit/kitStore';
import { useLookedAtSteps } from '../shell/steps';
import { FindingsButton, FindingsHere } from './Findings';

const CALL = 'GET /api/kits/k/findings';
const kitAt = (version: number) => {
  const head = { made: ['layers', 'notes', 'touch'] };
  useKit.setState({ kit: { id: 'k', version, head } as unknown as KitState });
};
const GAP = {
  rule: 'gap',
  key: 'gap',
  level: 'worth_a_look',
  title: 'Nothing plays from 30 to 40',
  sentence: 'A gap.',
  place: 'Snare',
  where: { step: 'layers' },
  fixes: [],
  ignored: false,
} as unknown as Finding;

/** An answer that comes when it is told to. */
function later() {
  let give: (found: Finding[]) => void = () => undefined;
  const found = new Promise<Finding[]>((resolve) => {
    give = resolve;
  });
  return { answer: () => found, give: (those: Finding[]) => act(async () => give(those)) };
}

afterEach(() => {
  cleanup();
  useKit.setState({ kit: null });
  useLookedAtSteps.setState({ kits: {} });
});

describe('findings that are not known', () => {
  test('are said to be checked, and nothing is called right meanwhile', async () => {
    kitAt(1);
    useLookedAtSteps.setState({ kits: { k: ['touch'] } });
    const { answer, give } = later();
    screenOf(
      <>
        <FindingsButton />
        <FindingsHere step="touch" belongs={(f) => f.where.step === 'touch'} />
      </>,
      { [CALL]: answer, 'GET /api/jobs': [] },
    );
    expect(screen.getByRole('button', { name: 'Checking…' })).toBeTruthy();
    expect(screen.queryByText('Nothing to fix here.')).toBeNull();
    expect(screen.queryByText('Touch: done.')).toBeNull();
    await give([]);
    expect(await screen.findByRole('button', { name: 'Nothing wrong' })).toBeTruthy();
    expect(screen.getByText('Nothing to fix here.')).toBeTruthy();
    expect(screen.getByText('Touch: done.')).toBeTruthy();
  });

  test('of a newer version are checked again before anything is called right', async () => {
    kitAt(1);
    screenOf(<FindingsButton />, { [CALL]: [] });
    expect(await screen.findByRole('button', { name: 'Nothing wrong' })).toBeTruthy();
    act(() => kitAt(2));
    expect(screen.getByRole('button', { name: 'Checking…' })).toBeTruthy();
  });

  test('stay counted while a newer version is checked', async () => {
    kitAt(1);
    screenOf(<FindingsButton />, { [CALL]: [GAP] });
    expect(await screen.findByRole('button', { name: '1 finding' })).toBeTruthy();
    act(() => kitAt(2));
    expect(screen.getByRole('button', { name: '1 finding' })).toBeTruthy();
  });

  test('that could not be computed are not called right', async () => {
    kitAt(1);
    screenOf(<FindingsButton />, { [CALL]: new Refusal('The kit could not be read.') });
    expect(await screen.findByRole('button', { name: 'Not checked' })).toBeTruthy();
  });
});

test('a step that nobody looked at is not done, whatever was made', async () => {
  kitAt(1);
  screenOf(<FindingsHere step="notes" belongs={() => false} />, { [CALL]: [], 'GET /api/jobs': [] });
  expect(await screen.findByText('Nothing to fix here.')).toBeTruthy();
  expect(screen.queryByText('Notes: done.')).toBeNull();
});
