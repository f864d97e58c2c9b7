/**
 * A groove rendered with the same striker, graph and voices as the live player, every output apart.
 * The tests compare it with the Python renderer; it is the proof that what is heard is what is delivered.
 */
import type { GrooveEvent, PlayHead, PlayPiece } from '../api/calls';
import { Answers } from './answers';
import { Graph } from './graph';
import { Sounds } from './sounds';
import { GROOVE, Striker } from './striker';
import { loadStrips } from './strip';
import { tableOf } from './table';
import { frameOf, Voices } from './voices';

export interface RenderedOutput {
  number: number;
  sides: Float32Array[];
}

export async function renderOffline(
  head: PlayHead,
  pieces: PlayPiece[],
  events: GrooveEvent[],
  seconds: number,
): Promise<RenderedOutput[]> {
  const used = [
    ...new Set(head.channels.filter((channel) => channel.into == null).map((channel) => channel.output || 1)),
  ].sort((a, b) => a - b);
  const sides = used.map((number) => (head.outputs.find((o) => o.number === number)?.width === 'stereo' ? 2 : 1));
  const total = sides.reduce((sum, count) => sum + count, 0);
  const context = new OfflineAudioContext({
    numberOfChannels: total,
    length: Math.ceil(seconds * head.rate_hz),
    sampleRate: head.rate_hz,
  });
  const sounds = new Sounds(context);
  sounds.want(pieces);
  const answers = new Answers(context);
  const spaces = head.channels.flatMap((channel) => (channel.space ? [answers.load(channel.space)] : []));
  await Promise.all([sounds.settled(), loadStrips(context), ...spaces]);
  const graph = new Graph(context, head, answers);
  const voices = new Voices(context, graph, sounds, head);
  const merger = new ChannelMergerNode(context, { numberOfInputs: total });
  context.destination.channelInterpretation = 'discrete';
  let place = 0;
  used.forEach((number, at) => {
    const splitter = new ChannelSplitterNode(context, { numberOfOutputs: sides[at] });
    graph.outputs.get(number)?.connect(splitter);
    for (let side = 0; side < (sides[at] as number); side += 1) splitter.connect(merger, side, place + side);
    place += sides[at] as number;
  });
  merger.connect(context.destination);
  const striker = new Striker(tableOf(head, pieces));
  for (const event of [...events].sort((a, b) => a.time_s - b.time_s)) {
    const frame = frameOf(event.time_s, head.rate_hz);
    if (event.kind === 'pedal') {
      const { stopped, found } = striker.pedal(event.openness, event.time_s, GROOVE);
      voices.strike(found, frame, null, stopped);
    } else if (event.kind === 'press') {
      voices.strike([], frame, null, striker.press(event.note, event.pressure));
    } else {
      voices.strike(striker.strike(event.note, event.velocity, event.time_s, GROOVE), frame);
    }
  }
  const rendered = await context.startRendering();
  place = 0;
  return used.map((number, at) => {
    const from = place;
    place += sides[at] as number;
    return { number, sides: Array.from({ length: sides[at] as number }, (_, i) => rendered.getChannelData(from + i)) };
  });
}
