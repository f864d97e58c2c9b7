/**
 * Looks at what sounds: meters and charts, all in one round, thirty times a second while anything sounds and until all they
 * show stands still. In between not a frame is asked for: a kit that waits costs nothing.
 */
import { useKit } from './kitStore';

/** As fast as a level is read; the rest of the time belongs to strikes. */
const PERIOD_MS = 33;
/** A browser's frames come a little early or late. */
const EARLY_MS = 4;
/** Rounds of nothing that moves after which it rests: a hall answers late, and a spectrum takes a moment to sink. */
const STILL_AFTER = 30;

/** Shows what it sees, and says whether any of it still moves. `time` is the frame's, in milliseconds. */
type Look = (time: number) => boolean;

const all = new Set<Look>();
let frame = 0;
let last = 0;
let still = 0;

function round(time: number) {
  frame = requestAnimationFrame(round);
  if (time - last < PERIOD_MS - EARLY_MS) return;
  last = time;
  let moves = useKit.getState().player?.sounding ?? false;
  for (const look of all) moves = look(time) || moves;
  still = moves ? 0 : still + 1;
  if (still >= STILL_AFTER) rest();
}

function rest() {
  cancelAnimationFrame(frame);
  frame = 0;
}

function begin() {
  still = 0;
  if (all.size && !frame) frame = requestAnimationFrame(round);
}

useKit.subscribe(({ player }, before) => {
  if (player === before.player) return;
  player?.onStrike(begin);
  begin();
});

/** Look from now on; returns what ends it. */
export function lookOn(look: Look): () => void {
  all.add(look);
  begin();
  return () => {
    all.delete(look);
    if (!all.size) rest();
  };
}
