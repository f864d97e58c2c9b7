/** Auditioning single takes, and substitutes for takes not loaded. */
import type { Sounding } from './striker';
import type { Table } from './table';

/** A take as it would sound, by its articulation and id. */
export function takeOf(table: Table, articulation: string, takeId: string): Sounding | undefined {
  const entry = table.articulations.get(articulation);
  const place = entry?.articulation.takes.findIndex((take) => take.id === takeId) ?? -1;
  const take = entry?.articulation.takes[place];
  if (!entry || !take) return undefined;
  const layer = entry.articulation.layers.findIndex((l) => l.steps.some((step) => step.includes(place)));
  return { ...entry, velocity: 100, layer: Math.max(0, layer), take, gain: 1, tuning: 0, cutoff: null, attack: 0 };
}

/** The middle velocity of a take's layer. */
export function middleOf({ articulation, layer }: Sounding): number {
  const range = articulation.layers[layer];
  return range ? Math.round((range.low + range.high) / 2) : 100;
}

/** The nearest loaded take of the same layer, if the one due is not loaded. */
export function nearestLoaded(sounding: Sounding, loaded: (sounding: Sounding) => boolean): Sounding | undefined {
  const layer = sounding.articulation.layers[sounding.layer];
  const turn = sounding.articulation.takes.indexOf(sounding.take);
  const others = [...new Set(layer?.steps.flat())].sort((a, b) => Math.abs(a - turn) - Math.abs(b - turn));
  for (const place of others) {
    const take = sounding.articulation.takes[place];
    if (take && loaded({ ...sounding, take })) return { ...sounding, take };
  }
  return undefined;
}
