/**
 * EQ: up to eight bands of cuts, shelves and peaks. The twin of drumcore/treatments/eq.py, which names the source.
 * Bands are biquads in transposed direct form II, without latency. Gain and log frequency change smoothly; a band that
 * is added, removed or changes its kind is faded.
 */
import type { PlayEq } from '../../api/calls';
import { Glide, shareOf } from './glide';
import { EVERY, FADE_S, GONE, QUIET, type Stage } from './stage';

export type EqBand = NonNullable<PlayEq['bands']>[number];
export type Coefficients = [b0: number, b1: number, b2: number, a1: number, a2: number];

/** Of the sample rate: higher bands are placed here. */
export const HIGHEST_SHARE = 0.49;
const MOST_BANDS = 8;
const FLAT_CUT_DB = -3.01;

/** b0 b1 b2 a1 a2 of one band, with a0 = 1. */
export function coefficients(band: EqBand, rate: number): Coefficients {
  const w = (2 * Math.PI * band.hz) / rate;
  const sine = Math.sin(w);
  const cosine = Math.cos(w);
  const lift = 10 ** ((band.gain_db ?? 0) / 40);
  let b0: number;
  let b1: number;
  let b2: number;
  let a0: number;
  let a1: number;
  let a2: number;
  if (band.kind === 'low_cut' || band.kind === 'high_cut') {
    const alpha = sine / (2 * 10 ** ((band.resonance_db ?? FLAT_CUT_DB) / 20));
    const edge = band.kind === 'low_cut' ? 1 + cosine : 1 - cosine;
    [b0, b1, b2] = [edge / 2, band.kind === 'low_cut' ? -edge : edge, edge / 2];
    [a0, a1, a2] = [1 + alpha, -2 * cosine, 1 - alpha];
  } else if (band.kind === 'peak') {
    const alpha = sine / (2 * (band.q ?? 1));
    [b0, b1, b2] = [1 + alpha * lift, -2 * cosine, 1 - alpha * lift];
    [a0, a1, a2] = [1 + alpha / lift, -2 * cosine, 1 - alpha / lift];
  } else {
    const turn = band.kind === 'low_shelf' ? 1 : -1;
    const c = turn * cosine;
    const slope = (2 * Math.sqrt(lift) * sine) / Math.sqrt(2);
    b0 = lift * (lift + 1 - (lift - 1) * c + slope);
    b1 = turn * 2 * lift * (lift - 1 - (lift + 1) * c);
    b2 = lift * (lift + 1 - (lift - 1) * c - slope);
    a0 = lift + 1 + (lift - 1) * c + slope;
    a1 = turn * -2 * (lift - 1 + (lift + 1) * c);
    a2 = lift + 1 + (lift - 1) * c - slope;
  }
  return [b0 / a0, b1 / a0, b2 / a0, a1 / a0, a2 / a0];
}

/** One slot for a band: its current and target settings, and how much of it is heard. */
class Band {
  private kind: EqBand['kind'] | null = null;
  private next: EqBand | null = null;
  private readonly logHz: Glide;
  private readonly gain: Glide;
  private readonly q: Glide;
  private readonly resonance: Glide;
  private c: Coefficients = [1, 0, 0, 0, 0];
  private part = 0;
  private moving = false;
  private readonly state: Float64Array;
  private readonly fade: number;

  constructor(
    private rate: number,
    sides: number,
  ) {
    this.state = new Float64Array(2 * sides);
    this.fade = 1 / (FADE_S * rate);
    const share = shareOf(rate);
    this.logHz = new Glide(0, share);
    this.gain = new Glide(0, share);
    this.q = new Glide(1, share);
    this.resonance = new Glide(FLAT_CUT_DB, share);
  }

  /** Apply at once, at the start of a render. */
  begin(band: EqBand | null) {
    this.next = band;
    if (band) this.take(band);
    this.part = band ? 1 : 0;
  }

  update(band: EqBand | null) {
    this.next = band;
    if (band && !this.kind) this.take(band);
    else if (band && this.stays) this.set(band, (glide, value) => glide.to(value));
    // A slot without a band has no target, so its node may sleep.
    this.moving = this.kind !== null;
  }

  private set(band: EqBand, how: (glide: Glide, value: number) => void) {
    how(this.logHz, Math.log(band.hz));
    how(this.gain, band.gain_db ?? 0);
    how(this.q, band.q ?? 1);
    how(this.resonance, band.resonance_db ?? FLAT_CUT_DB);
  }

  private take(band: EqBand) {
    this.kind = band.kind;
    this.set(band, (glide, value) => glide.begin(value));
    // Uses the settings as given: a logarithm and back would lose the last digits.
    this.c = coefficients(band, this.rate);
    this.state.fill(0);
  }

  get silent() {
    return !this.moving && this.state.every((s) => Math.abs(s) < QUIET);
  }

  /** Whether it can change smoothly, or must fade out first. */
  private get stays() {
    return this.next !== null && this.next.kind === this.kind;
  }

  /** Move a little towards the target settings. */
  private move() {
    const { kind, next, logHz, gain, q, resonance } = this;
    if (!kind || !next || !this.stays) return;
    const glides = [logHz, gain, q, resonance];
    if (!glides.some((glide) => glide.moves)) {
      if (this.part === 1) this.moving = false;
      return;
    }
    for (const glide of glides) glide.move();
    const there = !glides.some((glide) => glide.moves);
    const now = { kind, hz: Math.exp(logHz.now), gain_db: gain.now, q: q.now, resonance_db: resonance.now };
    this.c = coefficients(there ? next : now, this.rate);
  }

  process(sides: Float64Array[], frames: number) {
    if (!this.kind) return;
    for (let at = 0; at < frames; at += EVERY) {
      if (this.moving) this.move();
      this.run(sides, at, Math.min(frames, at + EVERY));
      if (!this.kind) return;
    }
    for (let i = 0; i < this.state.length; i += 1) if (Math.abs(this.state[i] as number) < GONE) this.state[i] = 0;
  }

  private run(sides: Float64Array[], from: number, to: number) {
    const [b0, b1, b2, a1, a2] = this.c;
    const goal = this.stays ? 1 : 0;
    let { part } = this;
    const began = part;
    sides.forEach((sound, side) => {
      let s1 = this.state[2 * side] as number;
      let s2 = this.state[2 * side + 1] as number;
      part = began;
      for (let i = from; i < to; i += 1) {
        const x = sound[i] as number;
        const y = b0 * x + s1;
        s1 = b1 * x - a1 * y + s2;
        s2 = b2 * x - a2 * y;
        if (part !== goal) part = goal ? Math.min(1, part + this.fade) : Math.max(0, part - this.fade);
        sound[i] = part === 1 ? y : x + part * (y - x);
      }
      this.state[2 * side] = s1;
      this.state[2 * side + 1] = s2;
    });
    this.part = part;
    if (goal || part > 0) return;
    // Faded out: a next band starts from silence.
    this.kind = null;
    this.state.fill(0);
    if (this.next) this.take(this.next);
    else this.moving = false;
  }
}

export class EqStage implements Stage<PlayEq> {
  private bands: Band[];

  constructor(rate: number, sides: number, compiled: PlayEq | null) {
    this.bands = Array.from({ length: MOST_BANDS }, (_, place) => {
      const band = new Band(rate, sides);
      band.begin(compiled?.bands?.[place] ?? null);
      return band;
    });
  }

  update(compiled: PlayEq | null) {
    this.bands.forEach((band, place) => {
      band.update(compiled?.bands?.[place] ?? null);
    });
  }

  process(sides: Float64Array[], frames: number) {
    for (const band of this.bands) band.process(sides, frames);
  }

  get silent() {
    return this.bands.every((band) => band.silent);
  }
}
