/** Channels whose levels move together and keep their distances: the twin of drumcore/routing/level_groups.py. */

export interface Ends {
  least: number;
  most: number;
}

/**
 * The levels after moving all by `by`, or as much of it as the limits allow, to hundredths of a dB. Levels of −∞ stay.
 */
export function moved(levels: Record<string, number>, by: number, { least, most }: Ends): Record<string, number> {
  const sounding = Object.entries(levels).filter(([, level]) => level > least);
  const all = sounding.map(([, level]) => level);
  // At −∞ a level would lose its distance to the others.
  const down = Math.min(0, least + 1 - Math.min(...all));
  const up = Math.max(0, most - Math.max(...all));
  const step = Math.max(down, Math.min(up, by));
  const after = sounding.map(([id, level]) => [id, Math.floor((level + step) * 100 + 0.5) / 100]);
  return { ...levels, ...Object.fromEntries(after) };
}
