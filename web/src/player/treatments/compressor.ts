/**
 * The compressor. The twin of drumcore/treatments/compressor.py and its kernel, which name the source. Eight frames
 * share one gain, reached by a straight line. Settings change smoothly; switching it on or off cross-fades.
 */
import type { PlayCompressor } from '../../api/calls';
import { type Coefficients, coefficients } from './eq';
import { Glide, shareOf } from './glide';
import { EVERY, GONE, type Stage } from './stage';

const FLOOR = 1e-10;
const SETTLED_DB = 1e-6;
/** The frequency from which a low cut fades in or out: below anything a drum has. */
const LOWEST_HZ = 20;

const DEFAULTS = {
  threshold_db: -18,
  ratio: 3,
  knee_db: 6,
  attack_ms: 10,
  release_ms: 120,
  make_up_db: 0,
  mix: 1,
} as const;

/** The gain reduction at a steady level, in dB, 0 or more. The twin of `reduction_db`. */
export function reductionDb(over: number, slope: number, knee: number): number {
  if (2 * over < -knee) return 0;
  if (knee > 0 && 2 * over <= knee) return (-slope * (over + knee / 2) ** 2) / (2 * knee);
  return -slope * over;
}

export class CompressorStage implements Stage<PlayCompressor> {
  private readonly threshold: Glide;
  private readonly slope: Glide;
  private readonly knee: Glide;
  private readonly makeUp: Glide;
  private readonly mix: Glide;
  private readonly hz: Glide;
  private grows = 0;
  private shrinks = 0;
  private filters = false;
  private cut: Coefficients = [1, 0, 0, 0, 0];
  private readonly cutState: Float64Array;
  private reduced = 0;
  private gain = 1;
  /** The gain of the last frame. */
  private reached = 1;
  private on = false;

  constructor(
    private rate: number,
    sides: number,
    compiled: PlayCompressor | null,
  ) {
    const share = shareOf(rate);
    this.cutState = new Float64Array(2 * sides);
    this.threshold = new Glide(0, share);
    this.slope = new Glide(0, share);
    this.knee = new Glide(0, share);
    this.makeUp = new Glide(0, share);
    this.mix = new Glide(0, share);
    this.hz = new Glide(Math.log(LOWEST_HZ), share);
    if (compiled) this.take(compiled, true);
  }

  update(compiled: PlayCompressor | null) {
    if (compiled) this.take(compiled, false);
    else {
      this.mix.to(0);
      this.on = false;
    }
  }

  /** Set the target settings; settings that nobody hears yet apply at once. */
  private take(compiled: PlayCompressor, beginning: boolean) {
    const unheard = beginning || (this.mix.now === 0 && !this.on);
    const set = (glide: Glide, value: number) => (unheard ? glide.begin(value) : glide.to(value));
    set(this.threshold, compiled.threshold_db ?? DEFAULTS.threshold_db);
    set(this.slope, 1 / (compiled.ratio ?? DEFAULTS.ratio) - 1);
    set(this.knee, compiled.knee_db ?? DEFAULTS.knee_db);
    set(this.makeUp, compiled.make_up_db ?? DEFAULTS.make_up_db);
    const hz = compiled.low_cut_hz ?? null;
    if (hz !== null && !this.filters && !unheard) this.hz.begin(Math.log(LOWEST_HZ));
    if (hz !== null) this.filters = true;
    else if (unheard) this.filters = false;
    set(this.hz, Math.log(hz ?? LOWEST_HZ));
    this.goes = hz === null;
    this.cut = this.filters ? this.cutAt() : [0, 0, 0, 0, 0];
    const kept = (ms: number) => Math.exp(-EVERY / ((ms / 1000) * this.rate));
    this.grows = kept(compiled.attack_ms ?? DEFAULTS.attack_ms);
    this.shrinks = kept(compiled.release_ms ?? DEFAULTS.release_ms);
    const mix = compiled.mix ?? DEFAULTS.mix;
    if (beginning) this.mix.begin(mix);
    else this.mix.to(mix);
    if (beginning) this.reached = 1 - mix + mix * this.made;
    this.on = true;
  }

  /** Whether the low cut is fading out. */
  private goes = false;

  private cutAt(): Coefficients {
    return coefficients({ kind: 'low_cut', hz: Math.exp(this.hz.now) }, this.rate);
  }

  private get made() {
    return 10 ** (this.makeUp.now / 20);
  }

  /** The current gain reduction, in dB. */
  get reduction() {
    return this.on ? this.reduced : 0;
  }

  get silent() {
    return !this.on ? !this.mix.moves : this.reduced < SETTLED_DB && !this.moves;
  }

  private get moves() {
    const { threshold, slope, knee, makeUp, mix, hz } = this;
    return threshold.moves || slope.moves || knee.moves || makeUp.moves || mix.moves || hz.moves;
  }

  private move() {
    if (!this.moves) return;
    this.threshold.move();
    this.slope.move();
    this.knee.move();
    this.makeUp.move();
    this.mix.move();
    if (!this.hz.moves) return;
    this.hz.move();
    this.filters = this.hz.moves || !this.goes;
    this.cut = this.filters ? this.cutAt() : [0, 0, 0, 0, 0];
  }

  process(sides: Float64Array[], frames: number) {
    if (!this.on && !this.mix.moves) {
      // Bypassed: its old state would be wrong when it is switched on again.
      if (this.gain !== 1) this.forget();
      return;
    }
    for (let at = 0; at < frames; at += EVERY) {
      this.move();
      this.run(sides, at, Math.min(frames, at + EVERY));
    }
    if (Math.abs(this.reduced) < GONE) this.reduced = 0;
    const { cutState } = this;
    for (let i = 0; i < cutState.length; i += 1) if (Math.abs(cutState[i] as number) < GONE) cutState[i] = 0;
  }

  private forget() {
    this.cutState.fill(0);
    [this.reduced, this.gain, this.reached] = [0, 1, 1];
  }

  private peak(sides: Float64Array[], from: number, to: number): number {
    const [b0, b1, b2, a1, a2] = this.cut;
    let peak = 0;
    sides.forEach((sound, side) => {
      let s1 = this.cutState[2 * side] as number;
      let s2 = this.cutState[2 * side + 1] as number;
      for (let i = from; i < to; i += 1) {
        let x = sound[i] as number;
        if (this.filters) {
          const y = b0 * x + s1;
          s1 = b1 * x - a1 * y + s2;
          s2 = b2 * x - a2 * y;
          x = y;
        }
        const size = Math.abs(x);
        if (size > peak) peak = size;
      }
      this.cutState[2 * side] = s1;
      this.cutState[2 * side + 1] = s2;
    });
    return peak;
  }

  private run(sides: Float64Array[], from: number, to: number) {
    const over = 20 * Math.log10(Math.max(this.peak(sides, from, to), FLOOR)) - this.threshold.now;
    const wanted = reductionDb(over, this.slope.now, this.knee.now);
    const keeps = wanted > this.reduced ? this.grows : this.shrinks;
    this.reduced = keeps * this.reduced + (1 - keeps) * wanted;
    this.gain = 10 ** (-this.reduced / 20);
    const mix = this.mix.now;
    const last = 1 - mix + mix * this.made * this.gain;
    const step = (last - this.reached) / EVERY;
    for (const sound of sides) {
      for (let i = from; i < to; i += 1) sound[i] = (sound[i] as number) * (this.reached + step * (i - from + 1));
    }
    this.reached = last;
  }
}
