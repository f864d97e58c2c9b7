/** Repeated strikes on the audio clock. */
import type { Player } from './player';

const LOOKS_EVERY_MS = 25;
const AHEAD_S = 0.12;

/** Strike at a rate, with velocities given by `at`; returns a function that stops it. */
export function roll(
  player: Player,
  source: string,
  articulation: string,
  at: () => number,
  rate: () => number,
): () => void {
  player.wake();
  let next = player.context.currentTime + 0.05;
  const timer = setInterval(() => {
    while (next < player.context.currentTime + AHEAD_S) {
      player.strikeArticulation(source, articulation, at(), next);
      next += 1 / rate();
    }
  }, LOOKS_EVERY_MS);
  return () => clearInterval(timer);
}

/** Play from velocity 1 to 127 over a number of seconds. */
export function climb(
  player: Player,
  source: string,
  articulation: string,
  strikes = 32,
  seconds = 5,
  onEnd = () => {},
): () => void {
  let count = 0;
  const step = () => Math.round(1 + (126 * count) / (strikes - 1));
  const stop = roll(
    player,
    source,
    articulation,
    () => {
      const velocity = Math.min(127, step());
      count += 1;
      if (count === strikes) {
        stop();
        onEnd();
      }
      return velocity;
    },
    () => (count >= strikes ? 0.001 : strikes / seconds),
  );
  return stop;
}
