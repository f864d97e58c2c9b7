/**
 * Differences between the kit and what is heard while somebody listens: turned controls, bypassed treatments, soloed
 * microphones.
 */
import type { PlayChannel, PlayHead } from '../api/calls';

/** All channels and main together; no channel can have this id. */
export const WHOLE_KIT = '(the whole kit)';

type Sends = PlayChannel['sends'];
const sameWays = (a: Sends, b: Sends) =>
  JSON.stringify(a?.map((s) => s.into)) === JSON.stringify(b?.map((s) => s.into));

export class Listened {
  /** Turned settings not saved yet, by channel: heard in place of those in the head. */
  readonly turned = new Map<string, PlayChannel>();
  /** Whose treatment is bypassed, and the gain that matches its loudness. */
  before: { of: string | null; gain: number } = { of: null, gain: 1 };
  /** The soloed microphones; none means all are heard. */
  mics: ReadonlySet<string> = new Set();

  /** `micsOf` lists a piece's microphones in the order of its play table. */
  constructor(private micsOf: (pieceId: string) => string[]) {}

  /** The gain of the whole kit. */
  get gain(): number {
    return this.before.of === WHOLE_KIT ? this.before.gain : 1;
  }

  /** A channel as it is heard. */
  channel(channel: PlayChannel): PlayChannel {
    const { of, gain } = this.before;
    if (of === WHOLE_KIT) return { ...channel, treatments: [] };
    if (of !== channel.id) return channel;
    const louder = (matrix: PlayChannel['matrix']) => matrix.map((row) => row.map((cell) => cell * gain));
    const sends = channel.sends?.map((send) => ({ ...send, matrix: louder(send.matrix) }));
    return { ...channel, treatments: [], matrix: louder(channel.matrix), ...(sends ? { sends } : {}) };
  }

  /** A head as it is heard. */
  head(head: PlayHead): PlayHead {
    if (!this.turned.size && this.before.of === null) return head;
    const now = (channel: PlayChannel) => {
      const by = this.turned.get(channel.id);
      // Turning does not change destinations; settings turned for another width no longer apply.
      const fits = by?.width === channel.width && by.matrix.length === channel.matrix.length;
      if (!fits) return this.channel(channel);
      const { output, into } = channel;
      const sends = sameWays(by.sends, channel.sends) ? by.sends : channel.sends;
      return this.channel({ ...by, output, into, sends } as PlayChannel);
    };
    return { ...head, main: now(head.main), channels: head.channels.map(now) };
  }

  /** A head with the feeds of soloed microphones only. */
  feeds(head: PlayHead): PlayHead {
    if (!this.mics.size) return head;
    const feeds = head.feeds.map(({ piece, mics }) => {
      const names = this.micsOf(piece);
      return { piece, mics: mics.map((feed, place) => (this.mics.has(names[place] ?? '') ? feed : [])) };
    });
    return { ...head, feeds };
  }
}
