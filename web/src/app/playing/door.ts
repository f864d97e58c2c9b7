/**
 * The one way in for strikes. A message from a pointer, key, device or simulated kit is played, then shown and timed
 * here. A groove runs on the audio clock and enters the player the same way.
 */
import { useKit } from '../kit/kitStore';

export interface Message {
  input: string;
  kind: 'note' | 'controller' | 'pressure';
  number: number;
  value: number;
  /** When it was sent, in ms of performance.now(). */
  at: number;
}

/** A message that plays nothing but is shown; a pitch bend's value is −8192 to 8191. */
export interface Unplayed {
  input: string;
  kind: 'note off' | 'pitch bend' | 'program' | 'channel pressure';
  number: number;
  value: number;
  at: number;
}

type Watcher = (message: Message | Unplayed, plays: boolean) => unknown;

const watchers = new Set<Watcher>();
const KEPT = 200;
const took: number[] = [];

/** Play a message now or at a time of the audio clock, and tell the listeners. */
export function receive(message: Message, when = 0) {
  const begin = performance.now();
  const { input, kind, number, value, at } = message;
  useKit.getState().player?.take({ source: input, kind, number, value, time: at / 1000 }, when);
  if (kind === 'note' && !when) {
    // A device stamps its messages; the time until they were delivered counts too.
    took.push(performance.now() - Math.min(begin, at));
    if (took.length > KEPT) took.shift();
  }
  for (const watcher of watchers) watcher(message, true);
}

/** Show a message that plays nothing. */
export function show(message: Unplayed) {
  for (const watcher of watchers) watcher(message, false);
}

/** Listen to everything received, whether it plays or not. */
export function onAnything(watcher: Watcher): () => void {
  watchers.add(watcher);
  return () => watchers.delete(watcher);
}

/** Listen to what plays. */
export const onMessage = (listener: (message: Message) => void) =>
  onAnything((message, plays) => plays && listener(message as Message));

/** Milliseconds from a message until its sound is scheduled: the median and the slowest of the last 200. */
export function timing(): { count: number; middle: number; slowest: number } | null {
  if (!took.length) return null;
  const ordered = [...took].sort((a, b) => a - b);
  return {
    count: ordered.length,
    middle: ordered[Math.floor(ordered.length / 2)] as number,
    slowest: ordered[ordered.length - 1] as number,
  };
}

/** A note struck on the screen. */
export const strikeNote = (number: number, value: number) =>
  receive({ input: 'pointer', kind: 'note', number, value, at: performance.now() });
