/** The verdicts of the line check, in words. */
import type { Line } from '../../../api/calls';
import { count } from '../../../app/kit/format';

export function verdictSaid(line: Line): string {
  const said: Record<Line['verdict'], string> = {
    nowhere: 'arrives nowhere',
    one_side: 'on one side only',
    elsewhere: `also at ${line.astray.join(', ')}`,
    twice: 'arrives twice',
    clips: 'clips when struck hardest',
    as_planned: 'as planned',
  };
  return said[line.verdict];
}

/** The result of a check in one sentence. */
export function howItWent(lines: readonly Line[]): string {
  const planned = lines.filter((line) => line.verdict === 'as_planned').length;
  const all = count(lines.length, 'articulation');
  if (planned < lines.length) return `${planned} of ${all} arrive as planned`;
  return lines.length === 1 ? `${all} arrives as planned` : `all ${all} arrive as planned`;
}
