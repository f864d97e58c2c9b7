/** From a strike to what sounds. The twin of drumcore/playing/striker.py: same table, same strikes, same result. */
import type { PlayArticulation, PlayChoke, PlayInput, PlayPiece, PlayTake } from '../api/calls';
import { Gate } from './gate';
import type { Table } from './table';

export const OPEN = 127;
export const GROOVE = 'groove';
const PRESSED = 64;

export interface Sounding {
  piece: PlayPiece;
  articulation: PlayArticulation;
  velocity: number;
  layer: number;
  take: PlayTake;
  gain: number;
  /** How this strike varies: which tuning of its sounds, a low-pass, and a fade-in in frames. */
  tuning: number;
  cutoff: number | null;
  attack: number;
}

/** Why a strike started nothing; empty if it did. */
export type Why = '' | 'free' | 'cross_talk' | 'double' | 'ignored' | 'unanswered';

interface Pedal {
  openness: number;
  halfOpen: number | null;
}

export class Striker {
  private counts = new Map<string, number>();
  private gates = new Map<string, Gate>();
  private pedals = new Map<string, Pedal>();
  private inputs = new Map<string, PlayInput>();
  private held: Table;

  /** With `repeating`, every strike of a layer plays the same step of its round robin. */
  repeating = false;
  why: Why = '';
  /** What the last strike was meant for, whether it sounded or not. */
  aimed: PlayArticulation | null = null;

  constructor(table: Table) {
    this.held = table;
    this.table = table;
  }

  get table() {
    return this.held;
  }

  set table(table: Table) {
    const before = JSON.stringify([...this.inputs.values()]);
    this.held = table;
    this.inputs = new Map(table.head.inputs.map((input) => [input.id, input]));
    // Gates remember a fifth of a second; they start anew only if an input's settings changed.
    if (before !== JSON.stringify(table.head.inputs)) this.gates.clear();
  }

  /** What a note-on starts at a time in seconds; if nothing, `why` gives the reason. */
  strike(note: number, velocity: number, time: number, source: string): Sounding[] {
    const found: Sounding[] = [];
    this.aimed = null;
    const known = this.inputs.get(source);
    this.why = known ? this.gate(known).judge(note, velocity, time) : '';
    if (this.why) return found;
    const { openness } = this.pedalOf(source);
    const comingIn = (known?.table ?? this.table.head.input_table)[velocity] ?? 0;
    let here = false;
    for (const placed of this.table.head.notes[note] ?? []) {
      if (placed.open_from > openness || openness > placed.open_to) continue;
      here = true;
      const blend = placed.blend?.length ? (placed.blend[openness - placed.open_from] ?? 1) : 1;
      this.sound(placed.articulation, comingIn, (placed.gain ?? 1) * blend, found);
    }
    this.why = found.length ? '' : here ? this.why || 'unanswered' : 'free';
    return found;
  }

  /** Strike an articulation directly, without note map and pad rules. */
  strikeArticulation(id: string, velocity: number): Sounding[] {
    const found: Sounding[] = [];
    this.aimed = null;
    this.why = '';
    this.sound(id, this.table.head.input_table[velocity] ?? 0, 1, found);
    if (!found.length) this.why ||= 'unanswered';
    return found;
  }

  /** Move an input's pedal to a controller value: what closing it stops and starts. */
  pedal(value: number, time: number, source: string): { stopped: PlayChoke[]; found: Sounding[] } {
    const known = this.inputs.get(source);
    const pedal = this.pedalOf(source);
    const was = pedal.openness;
    const now = known?.openness[value] ?? value;
    pedal.openness = now;
    const stopped: PlayChoke[] = [];
    const found: Sounding[] = [];
    for (const closing of this.table.head.closing) {
      if (now >= closing.half || pedal.halfOpen === null) pedal.halfOpen = time;
      const entry = this.table.articulations.get(closing.articulation);
      if (!entry || was <= closing.below || now > closing.below) continue;
      stopped.push(...entry.articulation.chokes);
      if (closing.sounds) {
        const took = time - pedal.halfOpen;
        const velocity = Math.max(closing.softest, Math.floor(127 - closing.loss_a_s * took + 0.5));
        this.sound(closing.articulation, (known?.table ?? this.table.head.input_table)[velocity] ?? 0, 1, found);
      }
    }
    return { stopped, found };
  }

  /** The openness of an input's hats. */
  opennessOf(source: string): number {
    return this.pedalOf(source).openness;
  }

  /** The controller of an input's pedal. */
  controllerOf(source: string): number {
    return this.inputs.get(source)?.controller ?? this.table.head.controller;
  }

  /** A hand on a note's pad: what it stops. */
  press(note: number, pressure: number): PlayChoke[] {
    if (pressure < PRESSED) return [];
    const pieces = new Set<PlayPiece>();
    for (const placed of this.table.head.notes[note] ?? []) {
      const piece = this.table.articulations.get(placed.articulation)?.piece;
      if (piece?.hand_stop_s) pieces.add(piece);
    }
    return [...pieces].flatMap((piece) =>
      piece.articulations.map((a) => ({ articulation: a.id, fade_s: piece.hand_stop_s ?? 0 })),
    );
  }

  private gate(known: PlayInput): Gate {
    let gate = this.gates.get(known.id);
    if (!gate) {
      gate = new Gate(known);
      this.gates.set(known.id, gate);
    }
    return gate;
  }

  private pedalOf(source: string): Pedal {
    let pedal = this.pedals.get(source);
    if (!pedal) {
      pedal = { openness: OPEN, halfOpen: null };
      this.pedals.set(source, pedal);
    }
    return pedal;
  }

  private sound(id: string, comingIn: number, level: number, found: Sounding[]) {
    const entry = this.table.articulations.get(id);
    if (!entry) return;
    const { piece, articulation } = entry;
    this.aimed ??= articulation;
    const velocity = comingIn ? (articulation.table[comingIn] ?? 0) : 0;
    if (!velocity) {
      this.why = 'ignored';
      return;
    }
    const attack = piece.attacks?.[velocity] ?? 0;
    const { cutoffs_hz: cutoffs } = this.table.head;
    articulation.layers.forEach((layer, number) => {
      if (velocity < layer.low || velocity > layer.high || !layer.steps.length) return;
      const key = `${id} ${number}`;
      const count = this.counts.get(key) ?? 0;
      if (!this.repeating) this.counts.set(key, count + 1);
      const turn = layer.turns?.length ? layer.turns[count % layer.turns.length] : undefined;
      const gain = level * (layer.gains[velocity - layer.low] ?? 1) * (turn?.gain ?? 1);
      const tuning = turn?.tuning ?? 0;
      const darker = (turn?.darker ?? 0) + (piece.darker?.[velocity] ?? 0);
      const cutoff = articulation.filtered ? (cutoffs[Math.min(darker, cutoffs.length - 1)] ?? null) : null;
      for (const place of layer.steps[count % layer.steps.length] ?? []) {
        const take = articulation.takes[place];
        if (take) found.push({ piece, articulation, velocity, layer: number, take, gain, tuning, cutoff, attack });
      }
    });
  }
}
