/**
 * The channels and outputs of a play table as audio nodes: channel → treatments → reverb → a matrix for each
 * destination: main, an output, buses. All gains come compiled in the table.
 */
import type { PlayChannel, PlayHead } from '../api/calls';
import { lieDormant } from './dormant';
import { ImpulseResponses } from './impulseResponses';
import { Space } from './space';
import { Strip, stripsAreReady } from './strip';
import { openWays, type Ways } from './ways';

const SMOOTH_S = 0.006;
/** After this many time constants a glide has arrived (−139 dB). */
const ARRIVED = 16;
/** The fade of a removed channel. */
const LEFT_MS = 250;

/**
 * Glide a gain to a value. A browser processes the automation of a gain only while sound passes: if set in silence, the
 * glide would begin with the next strike and affect its start. So the end is scheduled too, and applies at once if it
 * has passed.
 */
export function glideTo(gain: AudioParam, value: number, now: number) {
  gain.cancelScheduledValues(now);
  gain.setTargetAtTime(value, now, SMOOTH_S);
  gain.setValueAtTime(value, now + ARRIVED * SMOOTH_S);
}

type Matrix = PlayChannel['matrix'];

function sized(context: BaseAudioContext, sides: number): GainNode {
  return new GainNode(context, {
    channelCount: sides,
    channelCountMode: 'explicit',
    channelInterpretation: 'speakers',
  });
}

export const sidesOf = (width: string) => (width === 'stereo' ? 2 : 1);

/** A connection from a channel: a gain from each of its sides to each side of the destination. */
class Way {
  readonly leaving: ChannelMergerNode;
  private cells: GainNode[][];
  /** The matrix set last. */
  private told: number[];
  private target: AudioNode | undefined;

  constructor(
    private context: BaseAudioContext,
    private from: AudioNode,
    matrix: Matrix,
    heard: boolean,
  ) {
    this.leaving = new ChannelMergerNode(context, { numberOfInputs: matrix.length });
    this.told = matrix.flat().map((gain) => (heard ? gain : 0));
    this.cells = matrix.map((row, out) =>
      row.map((gain, side) => {
        const value = heard ? gain : 0;
        const cell = new GainNode(context, { gain: value, channelCount: 1, channelCountMode: 'explicit' });
        from.connect(cell, side);
        cell.connect(this.leaving, 0, out);
        return cell;
      }),
    );
  }

  follow(matrix: Matrix, heard: boolean) {
    const wanted = matrix.flat().map((gain) => (heard ? gain : 0));
    this.cells.flat().forEach((cell, place) => {
      const value = wanted[place] ?? 0;
      if (value !== this.told[place]) glideTo(cell.gain, value, this.context.currentTime);
    });
    this.told = wanted;
  }

  /** Fade to silence. */
  fade() {
    for (const cell of this.cells.flat()) glideTo(cell.gain, 0, this.context.currentTime);
  }

  /** Connect to a destination, in place of the former one only: a meter listens to the same node. */
  to(target: AudioNode | undefined) {
    if (target === this.target) return;
    if (this.target) this.leaving.disconnect(this.target);
    this.target = target;
    if (target) this.leaving.connect(target);
  }

  dispose() {
    this.leaving.disconnect();
    for (const cell of this.cells.flat()) this.from.disconnect(cell);
  }
}

/** One channel: an input of its width, its treatments and reverb, its destination, and one connection per send. */
class ChannelNodes {
  readonly input: GainNode;
  readonly way: Way;
  /** By the bus they lead to. */
  readonly sends = new Map<string, Way>();
  private splitter: ChannelSplitterNode;
  private strip: Strip | null = null;
  private space: Space | null = null;
  /** The treatments set last: every edit of a kit comes here, and few change this channel. */
  private told = '';

  constructor(
    private context: BaseAudioContext,
    public channel: PlayChannel,
    heard: boolean,
    private impulseResponses: ImpulseResponses,
  ) {
    const sides = sidesOf(channel.width);
    this.input = sized(context, sides);
    this.splitter = new ChannelSplitterNode(context, { numberOfOutputs: sides });
    this.input.connect(this.splitter);
    this.treat(channel, true);
    this.place(channel, true);
    this.way = new Way(context, this.splitter, channel.matrix, heard);
  }

  /** The gain reduction of its treatments, in dB. */
  get reduction() {
    return this.strip?.reduction ?? 0;
  }

  /** Set its treatments. A node inserted while sound passes begins neutral and moves from there. */
  private treat(channel: PlayChannel, beginning: boolean) {
    const treatments = channel.treatments ?? [];
    const now = JSON.stringify(treatments);
    if (now === this.told) return;
    if (this.strip) this.strip.update(treatments);
    else if (treatments.length && stripsAreReady(this.context)) {
      this.strip = new Strip(this.context, sidesOf(channel.width), beginning ? treatments : []);
      const next = this.space?.input ?? this.splitter;
      this.input.connect(this.strip.node);
      this.input.disconnect(next);
      this.strip.node.connect(next);
      if (!beginning) this.strip.update(treatments);
    }
    if (this.strip) this.told = now;
  }

  /** Set its reverb or echo, inserted when it is first needed; without one, sound passes. */
  private place(channel: PlayChannel, beginning: boolean) {
    const space = channel.space ?? null;
    if (!space && !this.space) return;
    if (!this.space) {
      this.space = new Space(this.context, this.impulseResponses);
      const last = this.strip?.node ?? this.input;
      last.connect(this.space.input);
      last.disconnect(this.splitter);
      this.space.output.connect(this.splitter);
    }
    this.space.set(space, beginning);
  }

  dispose() {
    this.way.leaving.disconnect();
    this.space?.dispose();
    for (const send of this.sends.values()) send.dispose();
    this.input.disconnect();
    this.strip?.dispose();
  }

  /** Fade out, then disconnect, so that a tail does not end with a click. */
  leave() {
    for (const way of [this.way, ...this.sends.values()]) way.fade();
    setTimeout(() => this.dispose(), LEFT_MS);
  }

  fits(channel: PlayChannel) {
    return channel.width === this.channel.width && channel.matrix.length === this.channel.matrix.length;
  }

  /** `heard` says which connections are open: null is the destination, an id a bus it sends to. */
  follow(channel: PlayChannel, goesInto: string | null, sends: readonly Sent[], heard: (to: string | null) => boolean) {
    this.channel = channel;
    this.treat(channel, false);
    this.place(channel, false);
    this.way.follow(channel.matrix, heard(goesInto));
    for (const { bus, matrix } of sends) {
      const way = this.sends.get(bus);
      if (way) way.follow(matrix, heard(bus));
      else this.sends.set(bus, new Way(this.context, this.splitter, matrix, heard(bus)));
    }
    for (const [bus, way] of this.sends) {
      if (sends.some((send) => send.bus === bus)) continue;
      way.dispose();
      this.sends.delete(bus);
    }
  }
}

/** A send of a channel, by the bus it leads to. */
interface Sent {
  bus: string;
  matrix: Matrix;
}

export class Graph {
  readonly outputs = new Map<number, GainNode>();
  /** How many sides each of them has. */
  private widths = new Map<number, number>();
  /** Everything without an output of its own enters main, which leaves by output 1. */
  private main: ChannelNodes;
  private channels = new Map<string, ChannelNodes>();
  private places: ChannelNodes[] = [];
  private soloed: ReadonlySet<string> = new Set();
  private open: Ways = () => true;

  constructor(
    private context: BaseAudioContext,
    private head: PlayHead,
    private impulseResponses = new ImpulseResponses(context),
  ) {
    this.main = new ChannelNodes(context, head.main, true, impulseResponses);
    this.update(head);
  }

  /** The input of main, for sounds that bypass the channels. */
  get mainInput(): AudioNode {
    return this.main.input;
  }

  /** Apply an edited head without interrupting what sounds. An output of unchanged width keeps its node. */
  update(head: PlayHead) {
    this.head = head;
    this.open = openWays(head.channels, this.soloed);
    const there = new Map(head.outputs.map((output) => [output.number, sidesOf(output.width)]));
    for (const [number, sides] of this.widths) if (there.get(number) !== sides) this.outputs.delete(number);
    for (const [number, sides] of there) {
      if (!this.outputs.has(number)) this.outputs.set(number, sized(this.context, sides));
    }
    this.widths = there;
    if (!this.main.fits(head.main)) {
      this.main.dispose();
      this.main = new ChannelNodes(this.context, head.main, true, this.impulseResponses);
    }
    this.main.follow(head.main, null, [], () => true);
    this.main.way.to(this.outputs.get(head.main.output));
    const kept = new Set(head.channels.map((channel) => channel.id));
    for (const [id, nodes] of this.channels) {
      if (kept.has(id)) continue;
      nodes.leave();
      this.channels.delete(id);
    }
    this.places = head.channels.map((channel) => {
      const known = this.channels.get(channel.id);
      if (known?.fits(channel)) return known;
      known?.leave();
      const made = new ChannelNodes(
        this.context,
        channel,
        this.open(channel.id, this.busAt(channel.into)),
        this.impulseResponses,
      );
      this.channels.set(channel.id, made);
      return made;
    });
    // Destinations are connected once all channels exist.
    head.channels.forEach((channel, place) => {
      const nodes = this.places[place] as ChannelNodes;
      this.follow(nodes, channel);
      nodes.way.to(this.goalOf(channel));
      for (const [bus, way] of nodes.sends) way.to(this.channels.get(bus)?.input);
    });
  }

  private busAt(place: number | null | undefined): string | null {
    return place == null ? null : (this.head.channels[place]?.id ?? null);
  }

  private goalOf(channel: PlayChannel): AudioNode | undefined {
    const bus = this.busAt(channel.into);
    if (bus !== null) return this.channels.get(bus)?.input;
    return channel.output === 0 ? this.main.input : this.outputs.get(channel.output);
  }

  private follow(nodes: ChannelNodes, channel: PlayChannel) {
    const sends = (channel.sends ?? []).flatMap(({ into, matrix }): Sent[] => {
      const bus = this.busAt(into);
      return bus === null ? [] : [{ bus, matrix }];
    });
    nodes.follow(channel, this.busAt(channel.into), sends, (to) => this.open(channel.id, to));
  }

  /** Solo these channels, or none. This affects listening only, not the kit. */
  solo(channels: ReadonlySet<string>) {
    this.soloed = channels;
    this.update(this.head);
  }

  /** Stop computing what is silent. Call it after everything that listens is connected. */
  rest() {
    for (const nodes of [this.main, ...this.channels.values()]) lieDormant(this.context, nodes.input);
    for (const output of this.outputs.values()) lieDormant(this.context, output);
  }

  /** The input of a channel by its index in the head. */
  entrance(channel: number): AudioNode | undefined {
    return this.places[channel]?.input;
  }

  private nodes(id: string): ChannelNodes | undefined {
    return id === this.main.channel.id ? this.main : this.channels.get(id);
  }

  /** Apply one channel's turned settings at once; the head stays as it is. */
  turn(channel: PlayChannel) {
    const nodes = this.nodes(channel.id);
    if (!nodes?.fits(channel)) return;
    if (nodes === this.main) this.main.follow(channel, null, [], () => true);
    else {
      this.follow(nodes, channel);
      for (const [bus, way] of nodes.sends) way.to(this.channels.get(bus)?.input);
    }
  }

  /** A channel's input and output nodes by id, for meters. */
  entering(id: string): AudioNode | undefined {
    return this.nodes(id)?.input;
  }

  leaving(id: string): AudioNode | undefined {
    return this.nodes(id)?.way.leaving;
  }

  /** The current gain reduction of a channel's compressor, in dB. */
  reduction(id: string): number {
    return this.nodes(id)?.reduction ?? 0;
  }
}
