/**
 * A channel's treatments on the audio thread. After its input ends it continues with silence until the tail has ended.
 */
import { Chain, type PlayTreatment } from './treatments/kinds';

declare class AudioWorkletProcessor {
  readonly port: MessagePort;
}
declare const sampleRate: number;
declare function registerProcessor(name: string, processor: unknown): void;

const QUANTUM = 128;
/** How often the gain reduction is reported. */
const TOLD_EVERY_S = 1 / 30;

class StripProcessor extends AudioWorkletProcessor {
  private sides: Float64Array[];
  private chain: Chain;
  private going = true;
  private untold = 0;
  private told = 0;

  constructor({ processorOptions }: { processorOptions: { sides: number; treatments: PlayTreatment[] } }) {
    super();
    this.sides = Array.from({ length: processorOptions.sides }, () => new Float64Array(QUANTUM));
    this.chain = new Chain(sampleRate, processorOptions.sides, processorOptions.treatments);
    this.port.onmessage = ({ data }: MessageEvent<PlayTreatment[] | null>) => {
      if (data) this.chain.update(data);
      else this.going = false;
    };
  }

  process([input]: Float32Array[][], [output]: Float32Array[][]): boolean {
    let heard = false;
    this.sides.forEach((side, number) => {
      const entering = input?.[number];
      for (let i = 0; i < QUANTUM; i += 1) {
        const x = entering ? (entering[i] as number) : 0;
        if (x !== 0) heard = true;
        side[i] = x;
      }
    });
    // Asleep: nothing enters and no tail is left; the output is silent by default.
    if (!heard && this.chain.silent) {
      if (this.told) this.port.postMessage(0);
      this.told = 0;
      return this.going;
    }
    this.chain.process(this.sides, QUANTUM);
    this.sides.forEach((side, number) => {
      output?.[number]?.set(side);
    });
    this.tell();
    return this.going;
  }

  private tell() {
    this.untold += QUANTUM;
    const { reduction } = this.chain;
    if (this.untold < TOLD_EVERY_S * sampleRate || (reduction === 0 && this.told === 0)) return;
    this.untold = 0;
    this.told = reduction;
    this.port.postMessage(reduction);
  }
}

registerProcessor('strip', StripProcessor);
