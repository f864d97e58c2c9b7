/** Channels whose levels are moved together and keep their distances: the twin of drumcore/routing/level_groups.py. */

export interface Ends {
  least: number;
  most: number;
}

/** Levels moved by as much as all of them can be, to hundredths of a dB. What is at nothing stays there. */
export function moved(levels: Record<string, number>, by: number, { least, most }: Ends): Record<string, number> {
  const sounding = Object.entries(levels).filter(([, level]) => level > least);
  const all = sounding.map(([, level]) => level);
  // At nothing it would have no distance any more.
  const down = Math.min(0, least + 1 - Math.min(...all));
  const up = Math.max(0, most - Math.max(...all));
  const step = Math.max(down, Math.min(up, by));
  const after = sounding.map(([id, level]) => [id, Math.floor((level + step) * 100 + 0.5) / 100]);
  return { ...levels, ...Object.fromEntries(after) };
}
