/** The line check in words: verdicts, sides, and what changed since the one before. */
import { expect, it } from 'vitest';
import type { Line } from '../../../api/calls';
import { arrives, changedSince, howItWent, sideOf, verdictSaid } from './verdicts';

const output = (number: number, ...peaks_dbfs: (number | null)[]) => ({ number, name: `Output ${number}`, peaks_dbfs });
const line = (articulation: string, verdict: Line['verdict'], ...outputs: Line['outputs']): Line => ({
  piece: 'kick',
  articulation,
  verdict,
  outputs,
  planned: [2],
});

it('says by which side something arrives, and whether it does', () => {
  expect(sideOf(output(2, -6, -6))).toBe('');
  expect(sideOf(output(2, -6, -30))).toBe('L');
  expect(sideOf(output(2, null, -30))).toBe('R');
  expect(sideOf(output(2, -70, null))).toBe('');
  expect(sideOf(output(2, -6))).toBe('');
  expect([arrives(output(2, -61, null)), arrives(output(2, null, null)), arrives(output(2, null, -59))]).toEqual([
    false,
    false,
    true,
  ]);
});

it('names the outputs nobody planned', () => {
  const astray = line('kick/centre', 'elsewhere', output(1, -20, -20), output(2, -6, -6), output(3, -80, -80));
  expect(verdictSaid(astray)).toBe('also at 1');
  expect(verdictSaid(line('kick/centre', 'nowhere'))).toBe('arrives nowhere');
});

it('tells how it went, for one stroke and for many', () => {
  const fine = line('kick/centre', 'as_planned');
  expect(howItWent([fine])).toBe('all 1 stroke arrive as planned');
  expect(howItWent([fine, line('snare/centre', 'twice')])).toBe('1 of 2 strokes arrive as planned');
});

it('finds what became louder, softer, new or silent, and nothing that merely wavered', () => {
  const before = [
    line('kick/centre', 'as_planned', output(2, -8.2, -8.2), output(3, -90, -90), output(8, -18, -18)),
    line('snare/centre', 'as_planned', output(3, -6, -6)),
  ];
  const now = [
    line('kick/centre', 'elsewhere', output(2, -6.1, -7), output(3, -30, null), output(8, -18.2, -18)),
    line('snare/centre', 'nowhere', output(3, null, null)),
    line('ride/bow', 'as_planned', output(6, -12, -12)),
  ];
  expect(changedSince(before, now)).toEqual([
    { articulation: 'kick/centre', output: 2, from: -8.2, to: -6.1 },
    { articulation: 'kick/centre', output: 3, from: null, to: -30 },
    { articulation: 'snare/centre', output: 3, from: -6, to: null },
  ]);
  expect(changedSince([], now)).toEqual([]);
});
