/**
 * Redraws meters and charts in one round, thirty times a second, while anything sounds and until everything shown is
 * still. Otherwise no frame is requested, so a silent kit costs nothing.
 */
import { useKit } from './kitStore';

/** Fast enough to read a level; the remaining time is for strikes. */
const PERIOD_MS = 33;
/** A browser's frames come slightly early or late. */
const EARLY_MS = 4;
/** The number of still rounds before it rests: a hall has a delay, and a spectrum decays slowly. */
const STILL_AFTER = 30;

/** Draws, and returns whether anything still moves. `time` is the frame's, in milliseconds. */
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

/** Start drawing; returns a function that stops it. */
export function lookOn(look: Look): () => void {
  all.add(look);
  begin();
  return () => {
    all.delete(look);
    if (!all.size) rest();
  };
}
