/**
 * A channel's strip: a worklet node that treats what enters it. It is made when a channel is first treated, and unplugged
 * while it sleeps: the browser does not know a worklet's silence for silence, and would compute what follows.
 */

import type { Told } from './strip.worklet';
import address from './strip.worklet.ts?worker&url';
import type { PlayTreatment } from './treatments/kinds';

const ready = new WeakSet<BaseAudioContext>();

/** What strips are made of, fetched once a context. Nothing is treated before. */
export async function loadStrips(context: BaseAudioContext): Promise<void> {
  if (ready.has(context)) return;
  await context.audioWorklet.addModule(address);
  ready.add(context);
}

export const stripsAreReady = (context: BaseAudioContext) => ready.has(context);

export class Strip {
  readonly node: AudioWorkletNode;
  private next: AudioNode | null = null;
  private plugged = false;
  private asleep = false;
  private updates = 0;
  /** How much is held back, in dB, as told last. */
  reduction = 0;

  /** A message is no starting state: what it begins with goes along as an option. `onSleep`: nothing is left in it. */
  constructor(
    context: BaseAudioContext,
    sides: number,
    treatments: readonly PlayTreatment[],
    private onSleep: () => void,
  ) {
    this.node = new AudioWorkletNode(context, 'strip', {
      numberOfInputs: 1,
      numberOfOutputs: 1,
      outputChannelCount: [sides],
      channelCount: sides,
      channelCountMode: 'explicit',
      channelInterpretation: 'speakers',
      processorOptions: { sides, treatments },
    });
    this.node.port.onmessage = ({ data }: MessageEvent<Told>) => this.hear(data);
  }

  private hear({ reduction, asleep, updates }: Told) {
    this.reduction = reduction;
    // What it said before it heard of the last update says nothing of now.
    if (updates < this.updates || asleep === this.asleep) return;
    this.asleep = asleep;
    if (asleep) this.onSleep();
    else this.wake();
  }

  /** Lead there, and to nothing else. */
  to(next: AudioNode) {
    this.node.disconnect();
    this.next = next;
    this.plugged = true;
    this.node.connect(next);
  }

  /** To be said before anything enters it. */
  wake() {
    if (this.next && !this.plugged) this.node.connect(this.next);
    this.plugged = true;
  }

  /** To be said when nothing is going to enter it. */
  doze() {
    if (!this.asleep || !this.plugged) return;
    this.node.disconnect();
    this.plugged = false;
  }

  /** Plugged in until it is there: nothing moves in a strip that nobody asks for sound. */
  update(treatments: readonly PlayTreatment[]) {
    this.updates += 1;
    this.asleep = false;
    this.wake();
    this.node.port.postMessage(treatments);
  }

  dispose() {
    this.node.port.postMessage(null);
    this.node.disconnect();
  }
}
