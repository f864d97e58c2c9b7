/** What every treatment keeps, at work in one channel. The twin of drumcore/treatments/stage.py. */
export interface Stage<Compiled> {
  /** What it does from now on, reached without a click; null lets it do nothing, as slowly. */
  update(compiled: Compiled | null): void;
  /** The next frames treated where they stand, one array a side, double precision. */
  process(sides: Float64Array[], frames: number): void;
  /** Whether nothing is left in it and nothing in it moves. */
  readonly silent: boolean;
  /** The current gain reduction, in dB, where that is what it does. */
  readonly reduction?: number;
}

/** A filter's state under this is set to nothing, before numbers become too small for the processor to be fast with. */
export const GONE = 1e-30;
/** What rings on below this is no longer heard. */
export const QUIET = 1e-9;
/** How long a setting takes to be where it was put. */
export const SMOOTH_S = 0.03;
/** How long a stage takes to fade in and out. */
export const FADE_S = 0.02;
/** Settings on their way are looked at again every so many frames. */
export const EVERY = 8;
