/** The interface of every treatment at work in a channel. The twin of drumcore/treatments/stage.py. */
export interface Stage<Compiled> {
  /** Set its settings, reached without a click; null bypasses it, as smoothly. */
  update(compiled: Compiled | null): void;
  /** Treat the next frames in place, one array per side, double precision. */
  process(sides: Float64Array[], frames: number): void;
  /** Whether it has no tail left and no setting is moving. */
  readonly silent: boolean;
  /** The current gain reduction, in dB, for treatments that have one. */
  readonly reduction?: number;
}

/** Filter states below this become zero, before numbers get so small that the processor slows down. */
export const GONE = 1e-30;
/** A tail below this is inaudible. */
export const QUIET = 1e-9;
/** The time a setting takes to reach its target. */
export const SMOOTH_S = 0.03;
/** The time a treatment takes to fade in and out. */
export const FADE_S = 0.02;
/** Moving settings are updated every so many frames. */
export const EVERY = 8;
