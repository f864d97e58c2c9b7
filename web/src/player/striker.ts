/**
 * From a strike to what sounds. The twin of drumcore/playing/striking.py: same table, same strikes, same answer.
 */
import type { PlayArticulation, PlayPiece, PlayTake } from '../api/calls';
import type { Table } from './table';

export const OPEN = 127;

export interface Sounding {
  piece: PlayPiece;
  articulation: PlayArticulation;
  velocity: number;
  layer: number;
  take: PlayTake;
  gain: number;
  /** How this strike varies: which tuning of its sounds, and a filter b0 b1 b2 a1 a2. */
  tuning: number;
  filter: readonly number[] | null;
}

export class Striker {
  private counts = new Map<string, number>();

  /** With `held`, every strike of a layer plays the same turn of its order again. */
  held = false;

  constructor(public table: Table) {}

  /** What a note-on sets sounding; empty where the note is free, the strike ignored or no layer answers. */
  strike(note: number, velocity: number, openness: number): Sounding[] {
    const found: Sounding[] = [];
    const comingIn = this.table.head.input_table[velocity] ?? 0;
    for (const placed of this.table.head.notes[note] ?? []) {
      if (placed.open_from <= openness && openness <= placed.open_to) this.sound(placed.articulation, comingIn, found);
    }
    return found;
  }

  /** An articulation struck directly, past the notes. */
  strikeArticulation(id: string, velocity: number): Sounding[] {
    const found: Sounding[] = [];
    this.sound(id, this.table.head.input_table[velocity] ?? 0, found);
    return found;
  }

  private sound(id: string, comingIn: number, found: Sounding[]) {
    const entry = this.table.articulations.get(id);
    if (!entry || !comingIn) return;
    const { piece, articulation } = entry;
    const velocity = articulation.table[comingIn] ?? 0;
    if (!velocity) return;
    articulation.layers.forEach((layer, number) => {
      if (velocity < layer.low || velocity > layer.high || !layer.steps.length) return;
      const key = `${id} ${number}`;
      const count = this.counts.get(key) ?? 0;
      if (!this.held) this.counts.set(key, count + 1);
      const turn = layer.turns?.length ? layer.turns[count % layer.turns.length] : undefined;
      const gain = (layer.gains[velocity - layer.low] ?? 1) * (turn?.gain ?? 1);
      const tuning = turn?.tuning ?? 0;
      const filter = turn?.filter ?? null;
      for (const place of layer.steps[count % layer.steps.length] ?? []) {
        const take = articulation.takes[place];
        if (take) found.push({ piece, articulation, velocity, layer: number, take, gain, tuning, filter });
      }
    });
  }
}
