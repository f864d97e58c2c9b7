/**
 * A meter: the largest sample of each side since the last look, and a little before, so that no peak is missed. It
 * reuses its arrays.
 */
const WINDOW = 4096;

export class Meter {
  private sides: { analyser: AnalyserNode; samples: Float32Array<ArrayBuffer> }[] = [];

  constructor(context: BaseAudioContext, node: AudioNode, sides: number) {
    const splitter = new ChannelSplitterNode(context, { numberOfOutputs: sides });
    node.connect(splitter);
    for (let side = 0; side < sides; side += 1) {
      const analyser = new AnalyserNode(context, { fftSize: WINDOW });
      splitter.connect(analyser, side);
      this.sides.push({ analyser, samples: new Float32Array(WINDOW) });
    }
  }

  peaks(): number[] {
    return this.sides.map(({ analyser, samples }) => {
      analyser.getFloatTimeDomainData(samples);
      let peak = 0;
      for (let i = 0; i < WINDOW; i += 1) {
        const size = Math.abs(samples[i] as number);
        if (size > peak) peak = size;
      }
      return peak;
    });
  }

  peak(): number {
    return Math.max(0, ...this.peaks());
  }
}
