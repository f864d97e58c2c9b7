/** What the line check says of a stroke, in words; and what changed since the one before. */
import type { Line } from '../../../api/calls';
import { count } from '../../../app/format';

export type Verdict = Line['verdict'];

/** Louder than this something arrives; the core decides what follows from it. */
const ARRIVES_DBFS = -60;
const CHANGED_DB = 0.5;

export const loudest = (output: Line['outputs'][number]): number | null => {
  const heard = output.peaks_dbfs.filter((peak) => peak !== null);
  return heard.length ? Math.max(...heard) : null;
};

export const arrives = (output: Line['outputs'][number]): boolean => (loudest(output) ?? -200) > ARRIVES_DBFS;

/** The side it arrives by alone; nothing where it arrives by both, or has only one. */
export function sideOf(output: Line['outputs'][number]): '' | 'L' | 'R' {
  const [left, right] = output.peaks_dbfs;
  if (left === undefined || right === undefined || !arrives(output)) return '';
  const apart = (left ?? -200) - (right ?? -200);
  return Math.abs(apart) < 20 ? '' : apart > 0 ? 'L' : 'R';
}

export function verdictSaid(line: Line): string {
  const unplanned = line.outputs.filter((output) => arrives(output) && !line.planned.includes(output.number));
  const said: Record<Verdict, string> = {
    nowhere: 'arrives nowhere',
    one_side: 'on one side only',
    elsewhere: `also at ${unplanned.map((output) => output.number).join(', ')}`,
    twice: 'arrives twice',
    clips: 'clips when struck hardest',
    as_planned: 'as planned',
  };
  return said[line.verdict];
}

/** How a check went, in one sentence. */
export function howItWent(lines: readonly Line[]): string {
  const planned = lines.filter((line) => line.verdict === 'as_planned').length;
  if (planned === lines.length) return `all ${count(lines.length, 'stroke')} arrive as planned`;
  return `${planned} of ${count(lines.length, 'stroke')} arrive as planned`;
}

export interface Changed {
  articulation: string;
  output: number;
  from: number | null;
  to: number | null;
}

/** Where strokes arrive louder, softer, newly or not any more. */
export function changedSince(before: readonly Line[], lines: readonly Line[]): Changed[] {
  const known = new Map(before.map((line) => [line.articulation, new Map(line.outputs.map((o) => [o.number, o]))]));
  return lines.flatMap(({ articulation, outputs }) => {
    const was = known.get(articulation);
    if (!was) return [];
    const numbers = new Set([...was.keys(), ...outputs.map((output) => output.number)]);
    return [...numbers].flatMap((number) => {
      const [then, now] = [was.get(number), outputs.find((output) => output.number === number)];
      const from = then && arrives(then) ? loudest(then) : null;
      const to = now && arrives(now) ? loudest(now) : null;
      if (from === to || (from !== null && to !== null && Math.abs(from - to) < CHANGED_DB)) return [];
      return [{ articulation, output: number, from, to }];
    });
  });
}
