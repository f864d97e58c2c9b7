/** A channel's treatments as one worklet node, made when a channel is first treated. */
import address from './strip.worklet.ts?worker&url';
import type { PlayTreatment } from './treatments/kinds';

const ready = new WeakSet<BaseAudioContext>();

/** Loads the worklet's code, once per context; nothing is treated before. */
export async function loadStrips(context: BaseAudioContext): Promise<void> {
  if (ready.has(context)) return;
  await context.audioWorklet.addModule(address);
  ready.add(context);
}

export const stripsAreReady = (context: BaseAudioContext) => ready.has(context);

export class Strip {
  readonly node: AudioWorkletNode;
  /** The gain reduction in dB, as last reported. */
  reduction = 0;

  /** The initial treatments are passed as an option, because a message would arrive too late. */
  constructor(context: BaseAudioContext, sides: number, treatments: readonly PlayTreatment[]) {
    this.node = new AudioWorkletNode(context, 'strip', {
      numberOfInputs: 1,
      numberOfOutputs: 1,
      outputChannelCount: [sides],
      channelCount: sides,
      channelCountMode: 'explicit',
      channelInterpretation: 'speakers',
      processorOptions: { sides, treatments },
    });
    this.node.port.onmessage = ({ data }: MessageEvent<number>) => {
      this.reduction = data;
    };
  }

  update(treatments: readonly PlayTreatment[]) {
    this.node.port.postMessage(treatments);
  }

  dispose() {
    this.node.port.postMessage(null);
    this.node.disconnect();
  }
}
