/**
 * The channels and outputs of a play table as audio nodes: channel → its strip → its matrix → main or its own output.
 * Nothing here knows what a channel carries; every gain comes compiled in the table.
 */
import type { PlayChannel, PlayHead } from '../api/calls';
import { Strip, stripsAreReady } from './strip';

const SMOOTH_S = 0.006;

function sized(context: BaseAudioContext, sides: number): GainNode {
  return new GainNode(context, {
    channelCount: sides,
    channelCountMode: 'explicit',
    channelInterpretation: 'speakers',
  });
}

const sidesOf = (width: string) => (width === 'stereo' ? 2 : 1);

/** One channel: an input of its width, its strip, a gain a cell of its matrix, and the node its sides leave by. */
class Lane {
  readonly input: GainNode;
  readonly leaving: ChannelMergerNode;
  /** Where it goes now: main or an output. */
  target: AudioNode | undefined;
  private cells: GainNode[][];
  private splitter: ChannelSplitterNode;
  private strip: Strip | null = null;
  /** What the strip was told last: every edit of a kit comes by here, and few are about this channel. */
  private told = '';

  constructor(
    private context: BaseAudioContext,
    public channel: PlayChannel,
  ) {
    const sides = sidesOf(channel.width);
    this.input = sized(context, sides);
    this.leaving = new ChannelMergerNode(context, { numberOfInputs: channel.matrix.length });
    const splitter = new ChannelSplitterNode(context, { numberOfOutputs: sides });
    this.splitter = splitter;
    this.input.connect(splitter);
    this.treat(channel, true);
    this.cells = channel.matrix.map((row, out) =>
      row.map((gain, side) => {
        const cell = new GainNode(context, { gain, channelCount: 1, channelCountMode: 'explicit' });
        splitter.connect(cell, side);
        cell.connect(this.leaving, 0, out);
        return cell;
      }),
    );
  }

  /** Its strip from now on. One that is put in while sound passes begins flat, and moves from there. */
  private treat(channel: PlayChannel, beginning: boolean) {
    const treatments = channel.treatments ?? [];
    const now = JSON.stringify(treatments);
    if (now === this.told) return;
    if (this.strip) this.strip.update(treatments);
    else if (treatments.length && stripsAreReady(this.context)) {
      this.strip = new Strip(this.context, sidesOf(channel.width), beginning ? treatments : []);
      this.input.connect(this.strip.node);
      this.input.disconnect(this.splitter);
      this.strip.node.connect(this.splitter);
      if (!beginning) this.strip.update(treatments);
    }
    if (this.strip) this.told = now;
  }

  dispose() {
    this.leaving.disconnect();
    this.input.disconnect();
    this.strip?.dispose();
  }

  fits(channel: PlayChannel) {
    return channel.width === this.channel.width && channel.matrix.length === this.channel.matrix.length;
  }

  follow(channel: PlayChannel, heard: boolean) {
    this.channel = channel;
    this.treat(channel, false);
    channel.matrix.forEach((row, out) => {
      row.forEach((gain, side) => {
        this.cells[out]?.[side]?.gain.setTargetAtTime(heard ? gain : 0, this.context.currentTime, SMOOTH_S);
      });
    });
  }
}

export class Graph {
  readonly outputs = new Map<number, GainNode>();
  readonly main: GainNode;
  private lanes = new Map<string, Lane>();
  private places: Lane[] = [];
  private mainLevel: GainNode;
  private soloed: ReadonlySet<string> = new Set();

  constructor(
    private context: BaseAudioContext,
    private head: PlayHead,
  ) {
    this.main = sized(context, 2);
    this.mainLevel = new GainNode(context, { gain: head.main_gain });
    this.main.connect(this.mainLevel);
    for (const output of head.outputs) this.outputs.set(output.number, sized(context, sidesOf(output.width)));
    const first = this.outputs.get(1);
    if (first) this.mainLevel.connect(first);
    for (const channel of head.channels) this.addLane(channel);
    this.places = head.channels.map((channel) => this.lanes.get(channel.id) as Lane);
  }

  private addLane(channel: PlayChannel): Lane {
    const lane = new Lane(this.context, channel);
    if (!this.hears(channel)) lane.follow(channel, false);
    this.lanes.set(channel.id, lane);
    this.send(lane);
    return lane;
  }

  private send(lane: Lane) {
    // From where it went, and from nothing else: a meter listens to the same node.
    if (lane.target) lane.leaving.disconnect(lane.target);
    lane.target = lane.channel.output === 0 ? this.main : this.outputs.get(lane.channel.output);
    if (lane.target) lane.leaving.connect(lane.target);
  }

  /** Follow an edited head without interrupting what sounds. Outputs come with the host and stay as they were made. */
  update(head: PlayHead) {
    this.head = head;
    this.mainLevel.gain.setTargetAtTime(head.main_gain, this.context.currentTime, SMOOTH_S);
    for (const output of head.outputs) {
      if (!this.outputs.has(output.number)) this.outputs.set(output.number, sized(this.context, sidesOf(output.width)));
    }
    const kept = new Set(head.channels.map((channel) => channel.id));
    for (const [id, lane] of this.lanes) {
      if (!kept.has(id)) {
        lane.dispose();
        this.lanes.delete(id);
      }
    }
    this.places = head.channels.map((channel) => {
      const lane = this.lanes.get(channel.id);
      if (!lane?.fits(channel)) {
        lane?.dispose();
        return this.addLane(channel);
      }
      const moved = lane.channel.output !== channel.output;
      lane.follow(channel, this.hears(channel));
      if (moved) this.send(lane);
      return lane;
    });
  }

  /** Hear these channels alone, or all for none. It is listening: nothing of the kit knows. */
  solo(channels: ReadonlySet<string>) {
    this.soloed = channels;
    this.update(this.head);
  }

  private hears(channel: PlayChannel) {
    return this.soloed.size === 0 || this.soloed.has(channel.id);
  }

  /** Where a feed enters: the channel's place in the head. */
  entrance(channel: number): AudioNode | undefined {
    return this.places[channel]?.input;
  }

  /** Where a channel leaves, by id: for meters. */
  leaving(id: string): AudioNode | undefined {
    return this.lanes.get(id)?.leaving;
  }
}
