/** Loudness of the last three seconds (EBU Tech 3341, "short-term") of what enters and leaves a channel. */
import address from './loudness.worklet.ts?worker&url';
import { unplug } from './unplug';

const OFFSET_DB = -0.691;
const STEPS = 30;
/** Under this there is silence. */
const FLOOR_DB = -70;

/** Three seconds of powers, in steps of a tenth. */
export class LastSeconds {
  private powers: number[] = [];

  add(power: number) {
    this.powers = [...this.powers.slice(1 - STEPS), power];
  }

  /** In LUFS; null for silence. What was not heard yet counts as silence. */
  get db(): number | null {
    const mean = this.powers.reduce((sum, power) => sum + power, 0) / STEPS;
    const db = OFFSET_DB + 10 * Math.log10(mean);
    return db > FLOOR_DB ? db : null;
  }
}

/** What is listened to by one input: K-weighted by filters the browser has, in double precision. */
class Weighted {
  readonly db = new LastSeconds();
  private readonly filters: IIRFilterNode[];
  private heard: AudioNode | undefined;

  /** `sections` are second-order: b0 b1 b2 a0 a1 a2. */
  constructor(context: BaseAudioContext, sections: readonly (readonly number[])[]) {
    this.filters = sections.map(
      (c) => new IIRFilterNode(context, { feedforward: c.slice(0, 3), feedback: c.slice(3) }),
    );
    this.filters.reduce((from, to) => from.connect(to) as IIRFilterNode);
  }

  get leaving(): AudioNode {
    return this.filters.at(-1) as IIRFilterNode;
  }

  follow(node: AudioNode | undefined) {
    if (node === this.heard) return;
    const first = this.filters[0] as IIRFilterNode;
    unplug(this.heard, first);
    node?.connect(first);
    this.heard = node;
  }
}

/** Follows the nodes a channel is entered and left by, whatever makes them anew. */
export class ShortLoudness {
  private readonly ears: readonly [Weighted, Weighted];
  private node: AudioWorkletNode | null = null;
  private ended = false;

  constructor(context: BaseAudioContext, sections: readonly (readonly number[])[]) {
    this.ears = [new Weighted(context, sections), new Weighted(context, sections)];
    void this.load(context);
  }

  get entering(): number | null {
    return this.ears[0].db.db;
  }

  get leaving(): number | null {
    return this.ears[1].db.db;
  }

  private async load(context: BaseAudioContext) {
    try {
      await context.audioWorklet.addModule(address);
    } catch {
      // Without it nothing is shown, and everything sounds.
      return;
    }
    if (this.ended) return;
    const node = new AudioWorkletNode(context, 'power', {
      numberOfInputs: this.ears.length,
      numberOfOutputs: 1,
      outputChannelCount: [1],
      processorOptions: { inputs: this.ears.length },
    });
    // Only what leads to the destination is asked for sound; what leaves here is silence.
    node.connect(context.destination);
    this.ears.forEach((ear, input) => {
      ear.leaving.connect(node, 0, input);
    });
    node.port.onmessage = ({ data }: MessageEvent<number[]>) => {
      this.ears.forEach((ear, input) => {
        ear.db.add(data[input] ?? 0);
      });
    };
    this.node = node;
  }

  follow(from: AudioNode | undefined, to: AudioNode | undefined) {
    this.ears[0].follow(from);
    this.ears[1].follow(to);
  }

  end() {
    this.ended = true;
    this.follow(undefined, undefined);
    for (const ear of this.ears) ear.leaving.disconnect();
    this.node?.port.postMessage(null);
    this.node?.disconnect();
  }
}
