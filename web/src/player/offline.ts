/**
 * Renders a groove with the same striker, graph and voices as the live player, every output separately. Tests compare
 * it with the Python renderer, which proves that what is heard is what is delivered.
 */
import type { GrooveEvent, PlayHead, PlayPiece } from '../api/calls';
import { Graph } from './graph';
import { ImpulseResponses } from './impulseResponses';
import { Leaving, placesOn } from './leaving';
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
  const left = used.map((number, at) => ({ number, width: sides[at] === 2 ? ('stereo' as const) : ('mono' as const) }));
  // As on a sound card with enough channels: with three or more, every output has channels of its own.
  const channels = Math.max(
    3,
    sides.reduce((sum, count) => sum + count, 0),
  );
  const context = new OfflineAudioContext({
    numberOfChannels: channels,
    length: Math.ceil(seconds * head.rate_hz),
    sampleRate: head.rate_hz,
  });
  const sounds = new Sounds(context);
  sounds.want(pieces);
  const impulseResponses = new ImpulseResponses(context);
  const spaces = head.channels.flatMap((channel) => (channel.space ? [impulseResponses.load(channel.space)] : []));
  await Promise.all([sounds.settled(), loadStrips(context), ...spaces]);
  const graph = new Graph(context, head, impulseResponses);
  const voices = new Voices(context, graph, sounds, head);
  context.destination.channelInterpretation = 'discrete';
  const leaving = new Leaving(context, channels);
  leaving.follow(left, graph.outputs);
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
  const places = placesOn(left, channels);
  return used.map((number, at) => {
    const from = places.get(number) as number;
    return { number, sides: Array.from({ length: sides[at] as number }, (_, i) => rendered.getChannelData(from + i)) };
  });
}
