/**
 * Which connections stay open while channels are soloed. A soloed channel is heard, with everything it flows into and,
 * for a bus, what flows into it, along those connections only; main is always open.
 */
import type { PlayChannel } from '../api/calls';

export type Ways = (from: string, to: string | null) => boolean;

/** The ids a channel flows into by its sends and destination; outputs and main are not among them. */
function nexts(channel: PlayChannel, channels: readonly PlayChannel[]): string[] {
  const places = [...(channel.sends ?? []).map((send) => send.into), ...(channel.into == null ? [] : [channel.into])];
  return places.flatMap((place) => channels[place]?.id ?? []);
}

/** A connection leads from a channel to another, or by null to main or an output. */
export function openWays(channels: readonly PlayChannel[], soloed: ReadonlySet<string>): Ways {
  if (!soloed.size) return () => true;
  const byId = new Map(channels.map((channel) => [channel.id, channel]));
  const after = (ids: Iterable<string>) => {
    const found = new Set<string>();
    const left = [...ids];
    for (let id = left.pop(); id !== undefined; id = left.pop()) {
      const channel = byId.get(id);
      if (found.has(id) || !channel) continue;
      found.add(id);
      left.push(...nexts(channel, channels));
    }
    return found;
  };
  const onwards = after(soloed);
  const leads = (id: string) => [...after([id])].some((each) => soloed.has(each));
  return (from, to) => onwards.has(from) || (to !== null && leads(to));
}
