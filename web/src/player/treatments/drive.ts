/**
 * Drive: rounds peaks. The twin of drumcore/treatments/drive.py. Computed sample by sample; changing settings move in
 * straight lines over eight frames; switching it on or off cross-fades.
 */
import type { PlayDrive } from '../../api/calls';
import { Glide, shareOf } from './glide';
import { EVERY, type Stage } from './stage';

const DEFAULTS = { drive_db: 6, asymmetry: 0, level_matched: true, mix: 1 } as const;

/** The factors of y = made · (tanh(push · x + bias) − rest) + dry · x. */
interface Factors {
  push: number;
  bias: number;
  rest: number;
  made: number;
  dry: number;
}

/** The factors for some settings; `good` from 0 to 1 is the degree of level matching. */
export function driveFactors(pushDb: number, asymmetry: number, good: number, mix: number): Factors {
  const push = 10 ** (pushDb / 20);
  const rest = Math.tanh(asymmetry);
  const whole = push * (1 - rest ** 2);
  return { push, bias: asymmetry, rest, made: (good === 1 ? 1 / whole : whole ** -good) * mix, dry: 1 - mix };
}

export class DriveStage implements Stage<PlayDrive> {
  private readonly push: Glide;
  private readonly asymmetry: Glide;
  private readonly good: Glide;
  private readonly mix: Glide;
  private on = false;
  private now: Factors = driveFactors(0, 0, 1, 0);

  constructor(rate: number, _sides: number, compiled: PlayDrive | null) {
    const share = shareOf(rate);
    this.push = new Glide(0, share);
    this.asymmetry = new Glide(0, share);
    this.good = new Glide(1, share);
    this.mix = new Glide(0, share);
    if (compiled) {
      this.take(compiled, true);
      this.mix.begin(compiled.mix ?? DEFAULTS.mix);
      this.now = this.factors();
    }
  }

  update(compiled: PlayDrive | null) {
    if (compiled) {
      this.take(compiled, !this.on && !this.mix.moves);
      this.mix.to(compiled.mix ?? DEFAULTS.mix);
    } else {
      this.mix.to(0);
      this.on = false;
    }
  }

  private take(compiled: PlayDrive, unheard: boolean) {
    const set = (glide: Glide, value: number) => (unheard ? glide.begin(value) : glide.to(value));
    set(this.push, compiled.drive_db ?? DEFAULTS.drive_db);
    set(this.asymmetry, compiled.asymmetry ?? DEFAULTS.asymmetry);
    set(this.good, (compiled.level_matched ?? DEFAULTS.level_matched) ? 1 : 0);
    this.on = true;
    if (unheard) this.now = this.factors();
  }

  private factors(): Factors {
    return driveFactors(this.push.now, this.asymmetry.now, this.good.now, this.mix.now);
  }

  private get moves() {
    return this.push.moves || this.asymmetry.moves || this.good.moves || this.mix.moves;
  }

  get silent() {
    return !this.moves;
  }

  process(sides: Float64Array[], frames: number) {
    if (!this.on && !this.mix.moves) return;
    for (let at = 0; at < frames; at += EVERY) {
      const before = this.now;
      const moving = this.moves;
      if (moving) {
        for (const glide of [this.push, this.asymmetry, this.good, this.mix]) glide.move();
        this.now = this.factors();
      }
      const end = Math.min(frames, at + EVERY);
      for (const sound of sides) this.run(sound, at, end, moving ? before : this.now);
    }
  }

  private run(sound: Float64Array, from: number, to: number, before: Factors) {
    const after = this.now;
    for (let i = from; i < to; i += 1) {
      const x = sound[i] as number;
      if (before === after) {
        sound[i] = after.made * (Math.tanh(after.push * x + after.bias) - after.rest) + after.dry * x;
        continue;
      }
      const part = (i - from + 1) / EVERY;
      const way = (key: keyof Factors) => before[key] + (after[key] - before[key]) * part;
      const bias = way('bias');
      sound[i] = way('made') * (Math.tanh(way('push') * x + bias) - Math.tanh(bias)) + way('dry') * x;
    }
  }
}
