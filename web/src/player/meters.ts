/** Meters on every output and at both ends of every channel of a graph. */
import type { PlayHead } from '../api/calls';
import type { Graph } from './graph';
import { Meter } from './meter';

export class Meters {
  private outputs = new Map<number, { node: AudioNode; meter: Meter }>();
  private channels = new Map<string, { node: AudioNode; enters: Meter; leaves: Meter }>();

  constructor(private context: BaseAudioContext) {}

  /** Attach to a graph's present nodes; unchanged ones keep their meters. */
  follow(graph: Graph, { channels, main }: PlayHead) {
    for (const number of this.outputs.keys()) if (!graph.outputs.has(number)) this.outputs.delete(number);
    for (const [number, node] of graph.outputs) {
      if (this.outputs.get(number)?.node === node) continue;
      this.outputs.set(number, { node, meter: new Meter(this.context, node, node.channelCount) });
    }
    for (const channel of [...channels, main]) {
      const [from, node] = [graph.entering(channel.id), graph.leaving(channel.id)];
      if (!from || !node || this.channels.get(channel.id)?.node === node) continue;
      const enters = new Meter(this.context, from, channel.width === 'stereo' ? 2 : 1);
      this.channels.set(channel.id, { node, enters, leaves: new Meter(this.context, node, channel.matrix.length) });
    }
  }

  leaving(channel: string): number {
    return this.channels.get(channel)?.leaves.peak() ?? 0;
  }

  entering(channel: string): number {
    return this.channels.get(channel)?.enters.peak() ?? 0;
  }

  output(number: number): number[] {
    return this.outputs.get(number)?.meter.peaks() ?? [];
  }
}
