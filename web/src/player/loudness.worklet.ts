/**
 * Measures the K-weighted power of each input in steps of 0.1 s, its sides together. Its output is silence. The
 * browser's own filters would do, but creating four of them took a slow page 2 s, because it computes how long each
 * rings.
 */
import { GONE } from './treatments/stage';

declare class AudioWorkletProcessor {
  readonly port: MessagePort;
}
declare const sampleRate: number;
declare function registerProcessor(name: string, processor: unknown): void;

const STEP_S = 0.1;
const QUANTUM = 128;

type Section = readonly [number, number, number, number, number, number];
interface Asked {
  inputs: number;
  sections: readonly (readonly number[])[];
}

/** One side of an input through second-order sections, b0 b1 b2 a0 a1 a2, in double precision. */
class Weighted {
  private readonly states: Float64Array;

  constructor(private readonly sections: readonly (readonly number[])[]) {
    this.states = new Float64Array(2 * sections.length);
  }

  /** The power of the next frames; without input, of what still rings. */
  power(sound: Float32Array | undefined): number {
    const { sections, states } = this;
    if (!sound && states.every((state) => state === 0)) return 0;
    let power = 0;
    for (let i = 0; i < QUANTUM; i += 1) {
      let x = sound ? (sound[i] as number) : 0;
      for (let section = 0; section < sections.length; section += 1) {
        const [b0, b1, b2, a0, a1, a2] = sections[section] as Section;
        const y = (b0 * x + (states[2 * section] as number)) / a0;
        states[2 * section] = b1 * x - a1 * y + (states[2 * section + 1] as number);
        states[2 * section + 1] = b2 * x - a2 * y;
        x = y;
      }
      power += x * x;
    }
    for (let i = 0; i < states.length; i += 1) if (Math.abs(states[i] as number) < GONE) states[i] = 0;
    return power;
  }
}

class PowerProcessor extends AudioWorkletProcessor {
  private going = true;
  private frames = 0;
  private readonly step = Math.round(STEP_S * sampleRate);
  private readonly powers: Float64Array;
  private readonly sides: Weighted[][];

  constructor({ processorOptions: { inputs, sections } }: { processorOptions: Asked }) {
    super();
    this.sides = Array.from({ length: inputs }, () => [new Weighted(sections), new Weighted(sections)]);
    this.powers = new Float64Array(inputs);
    this.port.onmessage = () => {
      this.going = false;
    };
  }

  process(inputs: Float32Array[][]): boolean {
    for (let place = 0; place < inputs.length; place += 1) {
      this.sides[place]?.forEach((side, number) => {
        this.powers[place] = (this.powers[place] as number) + side.power(inputs[place]?.[number]);
      });
    }
    this.frames += QUANTUM;
    if (this.frames >= this.step) {
      this.port.postMessage(Array.from(this.powers, (power) => power / this.frames));
      this.powers.fill(0);
      this.frames = 0;
    }
    return this.going;
  }
}

registerProcessor('power', PowerProcessor);
