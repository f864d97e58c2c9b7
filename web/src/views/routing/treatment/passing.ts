/** Live signals of a channel: input and output spectrum, level, gain reduction. */
import { useEffect } from 'react';
import { useKit } from '../../../app/kit/kitStore';
import { lookOn } from '../../../app/kit/looks';
import { unplug } from '../../../player/unplug';
import { useLatest } from '../../../ui/latest';

const SIZE = 4096;
/** Silent looks after which charts are still: a spectrum decays slowly. */
const STILL_AFTER = 30;

export interface Passing {
  rate: number;
  /** Magnitudes in dB, one per bin. */
  entering: Float32Array<ArrayBuffer>;
  leaving: Float32Array<ArrayBuffer>;
  /** The highest recent sample at the input. */
  peak: number;
  /** The current gain reduction, in dB. */
  reduction: number;
}

/** One end of a channel: a node, and the analyser attached to it. */
class Ear {
  private node: AudioNode | undefined;
  private analyser: AnalyserNode | undefined;

  /** Attach to a node, which an edit or another kit may have replaced. */
  follow(node: AudioNode | undefined) {
    if (node === this.node) return;
    if (this.analyser) unplug(this.node, this.analyser);
    this.node = node;
    this.analyser = node && new AnalyserNode(node.context, { fftSize: SIZE, smoothingTimeConstant: 0.6 });
    if (this.analyser) node?.connect(this.analyser);
  }

  read(levels: Float32Array<ArrayBuffer>) {
    this.analyser?.getFloatFrequencyData(levels);
  }
}

/** One channel watched by several charts: its signals are read once for all. */
class Watch {
  private readonly draws = new Set<(passing: Passing) => void>();
  private readonly from = new Ear();
  private readonly to = new Ear();
  private readonly passing: Passing = {
    rate: 0,
    entering: new Float32Array(SIZE / 2),
    leaving: new Float32Array(SIZE / 2),
    peak: 0,
    reduction: 0,
  };
  private silent = 0;
  private end = () => {};

  constructor(private channel: string) {}

  /** Returns a function that ends it. */
  add(draw: (passing: Passing) => void): () => void {
    // A new chart has drawn nothing yet.
    this.silent = 0;
    this.end();
    this.end = lookOn(this.look);
    this.draws.add(draw);
    return () => {
      this.draws.delete(draw);
      if (this.draws.size) return;
      this.end();
      this.from.follow(undefined);
      this.to.follow(undefined);
    };
  }

  private look = () => {
    const { player } = useKit.getState();
    if (!player) return false;
    const { passing, channel } = this;
    this.from.follow(player.entering(channel));
    this.to.follow(player.leaving(channel));
    passing.rate = player.context.sampleRate;
    passing.peak = player.enteringPeak(channel);
    passing.reduction = player.reduction(channel);
    this.silent = passing.peak || passing.reduction ? 0 : this.silent + 1;
    if (this.silent > STILL_AFTER) return false;
    this.from.read(passing.entering);
    this.to.read(passing.leaving);
    for (const draw of this.draws) draw(passing);
    return this.silent === 0;
  };
}

const watches = new Map<string, Watch>();

/** Watch a channel until the returned function is called. */
export function watchPassing(channel: string, draw: (passing: Passing) => void): () => void {
  const watch = watches.get(channel) ?? new Watch(channel);
  watches.set(channel, watch);
  return watch.add(draw);
}

/** Calls `draw` thirty times a second while sound passes a channel, until it has decayed. */
export function usePassing(channel: string, draw: (passing: Passing) => void) {
  const latest = useLatest(draw);
  useEffect(() => watchPassing(channel, latest), [channel, latest]);
}
