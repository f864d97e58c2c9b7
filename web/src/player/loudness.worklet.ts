/** How much power passes in steps of a tenth of a second, for each input, its sides together. Nothing leaves it. */

declare class AudioWorkletProcessor {
  readonly port: MessagePort;
}
declare const sampleRate: number;
declare function registerProcessor(name: string, processor: unknown): void;

const STEP_S = 0.1;

class PowerProcessor extends AudioWorkletProcessor {
  private going = true;
  private frames = 0;
  private readonly step = Math.round(STEP_S * sampleRate);
  private readonly powers: Float64Array;

  constructor({ processorOptions: { inputs } }: { processorOptions: { inputs: number } }) {
    super();
    this.powers = new Float64Array(inputs);
    this.port.onmessage = () => {
      this.going = false;
    };
  }

  process(inputs: Float32Array[][]): boolean {
    for (let place = 0; place < inputs.length; place += 1) {
      let power = this.powers[place] as number;
      for (const side of inputs[place] as Float32Array[]) {
        for (let i = 0; i < side.length; i += 1) power += (side[i] as number) ** 2;
      }
      this.powers[place] = power;
    }
    this.frames += 128;
    if (this.frames >= this.step) {
      this.port.postMessage(Array.from(this.powers, (power) => power / this.frames));
      this.powers.fill(0);
      this.frames = 0;
    }
    return this.going;
  }
}

registerProcessor('power', PowerProcessor);

export {};
