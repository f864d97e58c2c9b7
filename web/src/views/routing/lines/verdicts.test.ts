/** The line check in words. */
import { expect, it } from 'vitest';
import type { Line } from '../../../api/calls';
import { howItWent, verdictSaid } from './verdicts';

const line = (verdict: Line['verdict'], ...astray: number[]): Line => ({
  piece: 'kick',
  articulation: 'kick/centre',
  verdict,
  outputs: [],
  planned: [2],
  astray,
  own: 2,
});

it('names the outputs nobody planned', () => {
  expect(verdictSaid(line('elsewhere', 1, 5))).toBe('also at 1, 5');
  expect(verdictSaid(line('nowhere'))).toBe('arrives nowhere');
});

it('tells how it went, for one articulation and for many', () => {
  const fine = line('as_planned');
  expect(howItWent([fine])).toBe('1 articulation arrives as planned');
  expect(howItWent([fine, fine])).toBe('all 2 articulations arrive as planned');
  expect(howItWent([fine, line('twice')])).toBe('1 of 2 articulations arrive as planned');
});
