/** The loudness of the last three seconds (EBU Tech 3341, "short-term") at the input and output of a channel. */
import address from './loudness.worklet.ts?worker&url';
import { unplug } from './unplug';

const OFFSET_DB = -0.691;
const STEPS = 30;
/** Below this it counts as silence. */
const FLOOR_DB = -70;

/** Three seconds of power values, in steps of 0.1 s. */
export class LastSeconds {
  private powers: number[] = [];

  add(power: number) {
    this.powers = [...this.powers.slice(1 - STEPS), power];
  }

  /** In LUFS; null for silence. Time not heard yet counts as silence. */
  get db(): number | null {
    const mean = this.powers.reduce((sum, power) => sum + power, 0) / STEPS;
    const db = OFFSET_DB + 10 * Math.log10(mean);
    return db > FLOOR_DB ? db : null;
  }
}

/** Follows a channel's input and output nodes, even if they are made again. */
export class ShortLoudness {
  private readonly heard: (AudioNode | undefined)[] = [undefined, undefined];
  private readonly seconds = [new LastSeconds(), new LastSeconds()] as const;
  private node: AudioWorkletNode | null = null;
  private ended = false;

  /** `sections` are the loudness filter's second-order sections: b0 b1 b2 a0 a1 a2. */
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
      // Without the worklet nothing is shown, but everything sounds.
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
    // A browser only computes what leads to the destination; this node's output is silence.
    node.connect(context.destination);
    node.port.onmessage = ({ data }: MessageEvent<number[]>) => {
      this.seconds.forEach((last, input) => {
        last.add(data[input] ?? 0);
      });
    };
    this.node = node;
  }

  /** Nodes that do not exist yet have to be given again. */
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
