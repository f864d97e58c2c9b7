/** A setting moving to its target: it starts and stops smoothly, within `SMOOTH_S`. */
import { EVERY, SMOOTH_S } from './stage';

/** The time constants of two poles that fit into a glide. */
const SETTLED = 7;
const CLOSE = 1e-6;

/** The share of the distance covered in `EVERY` frames. */
export const shareOf = (rate: number) => 1 - Math.exp((-EVERY * SETTLED) / (SMOOTH_S * rate));

export class Glide {
  private between: number;
  private goal: number;

  constructor(
    public now: number,
    private share: number,
  ) {
    this.between = now;
    this.goal = now;
  }

  to(goal: number) {
    this.goal = goal;
  }

  /** Apply at once: nothing is heard of it yet. */
  begin(value: number) {
    this.now = value;
    this.between = value;
    this.goal = value;
  }

  get moves() {
    return this.now !== this.goal;
  }

  /** Advance by `EVERY` frames. */
  move() {
    if (!this.moves) return;
    this.between += (this.goal - this.between) * this.share;
    this.now += (this.between - this.now) * this.share;
    const near = CLOSE * (1 + Math.abs(this.goal));
    if (Math.abs(this.goal - this.now) < near && Math.abs(this.goal - this.between) < near) this.begin(this.goal);
  }
}
