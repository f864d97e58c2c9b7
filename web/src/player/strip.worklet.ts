/** A channel's treatments on the audio thread. It goes on with silence when its input has ended, so that it rings out. */
import { Chain, type PlayTreatment } from './treatments/kinds';

declare class AudioWorkletProcessor {
  readonly port: MessagePort;
}
declare const sampleRate: number;
declare function registerProcessor(name: string, processor: unknown): void;

const QUANTUM = 128;
/** How much is held back is told so often. */
const TOLD_EVERY_S = 1 / 30;

/** What a strip tells: how much it holds back, in dB, and whether nothing enters it and nothing is left in it. */
export interface Told {
  reduction: number;
  asleep: boolean;
  /** How many updates it had when it said so. */
  updates: number;
}

class StripProcessor extends AudioWorkletProcessor {
  private sides: Float64Array[];
  private chain: Chain;
  private going = true;
  private untold = 0;
  private told: Told = { reduction: 0, asleep: false, updates: 0 };
  private updates = 0;

  constructor({ processorOptions }: { processorOptions: { sides: number; treatments: PlayTreatment[] } }) {
    super();
    this.sides = Array.from({ length: processorOptions.sides }, () => new Float64Array(QUANTUM));
    this.chain = new Chain(sampleRate, processorOptions.sides, processorOptions.treatments);
    this.port.onmessage = ({ data }: MessageEvent<PlayTreatment[] | null>) => {
      if (!data) {
        this.going = false;
        return;
      }
      this.chain.update(data);
      this.updates += 1;
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
    // Asleep: nothing enters, nothing is left, and what leaves is silent by itself.
    if (!heard && this.chain.silent) {
      this.tell(0, true);
      return this.going;
    }
    this.chain.process(this.sides, QUANTUM);
    this.sides.forEach((side, number) => {
      output?.[number]?.set(side);
    });
    this.untold += QUANTUM;
    const { reduction } = this.chain;
    const due = this.untold >= TOLD_EVERY_S * sampleRate;
    this.tell(due ? reduction : this.told.reduction, false);
    if (due) this.untold = 0;
    return this.going;
  }

  private tell(reduction: number, asleep: boolean) {
    const { told, updates } = this;
    if (reduction === told.reduction && asleep === told.asleep && updates === told.updates) return;
    this.told = { reduction, asleep, updates };
    this.port.postMessage(this.told);
  }
}

registerProcessor('strip', StripProcessor);
