/**
 * Sources that begin in one block. The sound's thread goes on while a page starts one source after another, by several
 * blocks at once: on a busy machine a snare's two microphones began 32 frames apart, and it sounded 0.6 dB louder; blocks
 * apart they sum to as much as 2.3 dB more. A source that leads nowhere waits, whenever it was to start. So all lead into
 * one node, and that leads on by one connection, the last that is made.
 */

/** As many sides as one node takes. */
const MOST_SIDES = 32;

interface Waiting {
  sources: AudioBufferSourceNode[];
  sides: number;
  /** Connects what leaves by an output of a node to where the sources go. */
  lead: (from: AudioNode, output: number) => void;
}

export class Onset {
  private waiting: Waiting[] = [];

  constructor(
    private context: BaseAudioContext,
    /** Whether the first block may come before the last is started. */
    private soon: boolean,
  ) {}

  /** Sources with as many sides each, all of which go to one place. */
  add(sources: AudioBufferSourceNode[], sides: number, lead: Waiting['lead']) {
    this.waiting.push({ sources, sides, lead });
  }

  /** Let all go, once they have been started. */
  begin(start: () => void) {
    const held = this.soon && this.waiting.reduce((sum, { sources }) => sum + sources.length, 0) > 1;
    const releases = held ? this.groups().map((group) => this.hold(group)) : [];
    if (!held) for (const { sources, lead } of this.waiting) for (const source of sources) lead(source, 0);
    start();
    for (const release of releases) release();
  }

  /** As many as one node takes begin together: a strike of more sides begins by so many. */
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

  /** Returns what lets them go. */
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
    // What stays connected is computed until it is cleared away: a roll took five times as much for seconds.
    const running = new Set(group.flatMap((waiting) => waiting.sources));
    for (const source of running) {
      source.addEventListener('ended', () => {
        running.delete(source);
        if (!running.size) for (const node of nodes) node.disconnect();
      });
    }
    return () => together.connect(apart);
  }

  /** Sources of several sides: one by one through what holds them, and as they were behind it. */
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
