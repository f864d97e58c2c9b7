/** Loudness of the last three seconds (EBU Tech 3341, "short-term") of the input and output of a channel. */
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

/** Follows the nodes a channel is entered and left by, whatever makes them anew. */
export class ShortLoudness {
  private readonly heard: (AudioNode | undefined)[] = [undefined, undefined];
  private readonly seconds = [new LastSeconds(), new LastSeconds()] as const;
  private node: AudioWorkletNode | null = null;
  private ended = false;

  /** `sections` weigh what is heard, one after another; they are second-order: b0 b1 b2 a0 a1 a2. */
  constructor(context: BaseAudioContext, sections: readonly (readonly number[])[]) {
    void this.load(context, sections);
  }

  get entering(): number | null {
    return this.seconds[0].db;
  }

  get leaving(): number | null {
    return this.seconds[1].db;
  }

  private async load(context: BaseAudioContext, sections: readonly (readonly number[])[]) {
    try {
      await context.audioWorklet.addModule(address);
    } catch {
      // Without it nothing is shown, and everything sounds.
      return;
    }
    if (this.ended) return;
    const inputs = this.seconds.length;
    const node = new AudioWorkletNode(context, 'power', {
      numberOfInputs: inputs,
      numberOfOutputs: 1,
      outputChannelCount: [1],
      processorOptions: { inputs, sections },
    });
    // Only what leads to the destination is asked for sound; what leaves here is silence.
    node.connect(context.destination);
    node.port.onmessage = ({ data }: MessageEvent<number[]>) => {
      this.seconds.forEach((last, input) => {
        last.add(data[input] ?? 0);
      });
    };
    this.node = node;
  }

  /** What is not there to listen yet is to be told again. */
  follow(...nodes: [from: AudioNode | undefined, to: AudioNode | undefined]) {
    const { node } = this;
    if (!node) return;
    nodes.forEach((from, input) => {
      if (from === this.heard[input]) return;
      unplug(this.heard[input], node, input);
      from?.connect(node, 0, input);
      this.heard[input] = from;
    });
  }

  end() {
    this.ended = true;
    this.follow(undefined, undefined);
    this.node?.port.postMessage(null);
    this.node?.disconnect();
  }
}
