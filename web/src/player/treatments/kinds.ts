/** The kinds of treatments, in processing order. The twin of drumcore/treatments/kinds.py. */
import type { PlayChannel } from '../../api/calls';
import { CompressorStage } from './compressor';
import { DriveStage } from './drive';
import { EqStage } from './eq';
import type { Stage } from './stage';

export type PlayTreatment = NonNullable<PlayChannel['treatments']>[number];
type Kind = NonNullable<PlayTreatment['kind']>;
type Of<K extends Kind> = Extract<PlayTreatment, { kind?: K }>;

const KINDS: { [K in Kind]: (rate: number, sides: number, compiled: Of<K> | null) => Stage<Of<K>> } = {
  eq: (rate, sides, compiled) => new EqStage(rate, sides, compiled),
  compressor: (rate, sides, compiled) => new CompressorStage(rate, sides, compiled),
  drive: (rate, sides, compiled) => new DriveStage(rate, sides, compiled),
};

const of = <K extends Kind>(kind: K, treatments: readonly PlayTreatment[]) =>
  (treatments.find((treatment) => treatment.kind === kind) ?? null) as Of<K> | null;

function begin<K extends Kind>(kind: K, rate: number, sides: number, treatments: readonly PlayTreatment[]) {
  const stage = KINDS[kind](rate, sides, of(kind, treatments));
  return {
    update: (now: readonly PlayTreatment[]) => stage.update(of(kind, now)),
    process: (sound: Float64Array[], frames: number) => stage.process(sound, frames),
    silent: () => stage.silent,
    reduction: () => stage.reduction ?? 0,
  };
}

/** A channel's treatments, one slot for each kind; empty slots pass sound through. */
export class Chain {
  private readonly stages;

  constructor(rate: number, sides: number, treatments: readonly PlayTreatment[]) {
    this.stages = (Object.keys(KINDS) as Kind[]).map((kind) => begin(kind, rate, sides, treatments));
  }

  update(treatments: readonly PlayTreatment[]) {
    for (const stage of this.stages) stage.update(treatments);
  }

  process(sides: Float64Array[], frames: number) {
    for (const stage of this.stages) stage.process(sides, frames);
  }

  /** The current gain reduction, in dB. */
  get reduction() {
    return this.stages.reduce((most, stage) => Math.max(most, stage.reduction()), 0);
  }

  get silent() {
    return this.stages.every((stage) => stage.silent());
  }
}
