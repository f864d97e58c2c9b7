/**
 * Where outputs leave: each by its own channels of the sound card while there are enough; the rest is mixed into its
 * first two.
 */
import { sidesOf } from './graph';
import { unplug } from './unplug';

interface Wide {
  number: number;
  width: 'mono' | 'stereo';
}

/** The first channel of each output that gets channels of its own, on a sound card with this many. */
export function placesOn(outputs: readonly Wide[], channels: number): Map<number, number> {
  const found = new Map<number, number>();
  if (channels <= 2) return found;
  let next = 0;
  for (const { number, width } of outputs) {
    const sides = sidesOf(width);
    if (next + sides > channels) break;
    found.set(number, next);
    next += sides;
  }
  return found;
}

export class Leaving {
  /** Everything that leaves, channel by channel. */
  readonly heard: GainNode;
  private merger: ChannelMergerNode;
  private plugged = new Map<number, { node: GainNode; splitter: ChannelSplitterNode }>();

  constructor(
    private context: BaseAudioContext,
    readonly channels: number,
  ) {
    this.merger = new ChannelMergerNode(context, { numberOfInputs: channels });
    this.heard = new GainNode(context, {
      channelCount: channels,
      channelCountMode: 'explicit',
      channelInterpretation: 'discrete',
    });
    this.merger.connect(this.heard);
    this.heard.connect(context.destination);
  }

  /** Connect exactly these outputs. */
  follow(outputs: readonly Wide[], nodes: ReadonlyMap<number, GainNode>) {
    const places = placesOn(outputs, this.channels);
    for (const { node, splitter } of this.plugged.values()) {
      unplug(node, splitter);
      splitter.disconnect();
    }
    this.plugged.clear();
    for (const { number, width } of outputs) {
      const node = nodes.get(number);
      if (!node) continue;
      const sides = sidesOf(width);
      const splitter = new ChannelSplitterNode(this.context, { numberOfOutputs: sides });
      node.connect(splitter);
      this.plugged.set(number, { node, splitter });
      const own = places.get(number);
      for (let side = 0; side < sides; side += 1) {
        if (own !== undefined) splitter.connect(this.merger, side, own + side);
        else if (sides === 2) splitter.connect(this.merger, side, side);
        // A mono output is heard on both sides, at full level.
        else for (const both of [0, 1]) splitter.connect(this.merger, 0, both);
      }
    }
  }

  dispose() {
    for (const { node, splitter } of this.plugged.values()) unplug(node, splitter);
    this.heard.disconnect();
  }
}
