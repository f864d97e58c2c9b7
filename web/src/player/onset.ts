/**
 * Starts several sources in the same audio block. The audio thread keeps running while a page starts one source after
 * another: on a busy machine a snare's two microphones began 32 frames apart and it sounded 0.6 dB louder; a block
 * apart, up to 2.3 dB. A source that leads nowhere does not start, whatever its time. So all sources are connected to
 * one node, which is connected last.
 */

/** The most sides one node takes. */
const MOST_SIDES = 32;

interface Waiting {
  sources: AudioBufferSourceNode[];
  sides: number;
  /** Connects an output of a node to the sources' destination. */
  lead: (from: AudioNode, output: number) => void;
}

export class Onset {
  private waiting: Waiting[] = [];

  constructor(
    private context: BaseAudioContext,
    /** Whether the audio thread may reach the start before the last source is started. */
    private soon: boolean,
  ) {}

  /** Add sources of equal width with a common destination. */
  add(sources: AudioBufferSourceNode[], sides: number, lead: Waiting['lead']) {
    this.waiting.push({ sources, sides, lead });
  }

  /** Start all of them together. */
  begin(start: () => void) {
    const held = this.soon && this.waiting.reduce((sum, { sources }) => sum + sources.length, 0) > 1;
    const releases = held ? this.groups().map((group) => this.hold(group)) : [];
    if (!held) for (const { sources, lead } of this.waiting) for (const source of sources) lead(source, 0);
    start();
    for (const release of releases) release();
  }

  /** Groups of as many sides as one node takes; a strike with more sides begins group by group. */
  private groups(): Waiting[][] {
    const groups: Waiting[][] = [];
    let taken = MOST_SIDES;
    for (const waiting of this.waiting) {
      taken += waiting.sides;
      if (taken > MOST_SIDES) {
        groups.push([]);
        taken = waiting.sides;
      }
      groups.at(-1)?.push(waiting);
    }
    return groups;
  }

  /** Returns a function that releases them. */
  private hold(group: Waiting[]): () => void {
    const sides = group.reduce((sum, waiting) => sum + waiting.sides, 0);
    const together = new ChannelMergerNode(this.context, { numberOfInputs: sides });
    const apart = new ChannelSplitterNode(this.context, { numberOfOutputs: sides });
    const nodes: AudioNode[] = [together, apart];
    let at = 0;
    for (const waiting of group) {
      if (waiting.sides === 1) {
        for (const source of waiting.sources) source.connect(together, 0, at);
        waiting.lead(apart, at);
      } else nodes.push(this.several(waiting, together, apart, at));
      at += waiting.sides;
    }
    // Connected nodes are computed until they are collected: a roll took five times as much for seconds.
    const running = new Set(group.flatMap((waiting) => waiting.sources));
    for (const source of running) {
      source.addEventListener('ended', () => {
        running.delete(source);
        if (!running.size) for (const node of nodes) node.disconnect();
      });
    }
    return () => together.connect(apart);
  }

  /** Multi-channel sources: split into the common node, and merged again after it. */
  private several({ sources, sides, lead }: Waiting, together: AudioNode, apart: AudioNode, at: number): AudioNode {
    const again = new ChannelMergerNode(this.context, { numberOfInputs: sides });
    for (const source of sources) {
      const split = new ChannelSplitterNode(this.context, { numberOfOutputs: sides });
      source.connect(split);
      for (let side = 0; side < sides; side += 1) split.connect(together, side, at + side);
    }
    for (let side = 0; side < sides; side += 1) apart.connect(again, at + side, side);
    lead(again, 0);
    return again;
  }
}
