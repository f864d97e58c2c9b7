/** The kinds of treatment there are, in the order in which sound passes them. The twin of drumcore/treatments/kinds.py. */
import type { PlayChannel } from '../../api/calls';
import { EqStage } from './eq';
import type { Stage } from './stage';

export type PlayTreatment = NonNullable<PlayChannel['treatments']>[number];
type Maker = (rate: number, sides: number, compiled: PlayTreatment | null) => Stage<PlayTreatment>;

const KINDS: Record<NonNullable<PlayTreatment['kind']>, Maker> = {
  eq: (rate, sides, compiled) => new EqStage(rate, sides, compiled),
};

/** A channel's treatments at work, every kind in its place, those it does not have doing nothing. */
export class Chain {
  private stages: { kind: string; stage: Stage<PlayTreatment> }[];

  constructor(rate: number, sides: number, treatments: readonly PlayTreatment[]) {
    this.stages = Object.entries(KINDS).map(([kind, make]) => ({
      kind,
      stage: make(rate, sides, treatments.find((t) => t.kind === kind) ?? null),
    }));
  }

  update(treatments: readonly PlayTreatment[]) {
    for (const { kind, stage } of this.stages) stage.update(treatments.find((t) => t.kind === kind) ?? null);
  }

  process(sides: Float64Array[], frames: number) {
    for (const { stage } of this.stages) stage.process(sides, frames);
  }

  get silent() {
    return this.stages.every(({ stage }) => stage.silent);
  }
}
