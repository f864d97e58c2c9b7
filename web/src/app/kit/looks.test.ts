/** What shows sound is looked at while something sounds or moves, and not a frame is asked for otherwise. */
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { useKit } from './kitStore';
import { lookOn } from './looks';

let frames = new Map<number, (time: number) => void>();
let asked = 0;
vi.stubGlobal('requestAnimationFrame', (frame: (time: number) => void) => {
  asked += 1;
  frames.set(asked, frame);
  return asked;
});
vi.stubGlobal('cancelAnimationFrame', (number: number) => frames.delete(number));
let now = 0;
/** So many frames, each `apart` ms after the one before. */
function pass(times: number, apart = 40) {
  for (let k = 0; k < times; k += 1) {
    now += apart;
    const due = [...frames.values()];
    frames = new Map();
    for (const frame of due) frame(now);
  }
}

/** A player, and a strike of it. */
function playing() {
  let strike = () => {};
  const player = { sounding: false, onStrike: (heard: () => void) => (strike = heard) };
  useKit.setState({ player: player as never });
  return { player, strike: () => strike() };
}

let ends: (() => void)[] = [];
const look = (moves: () => boolean) => {
  const seen = vi.fn(moves);
  ends.push(lookOn(seen));
  return seen;
};

beforeEach(() => {
  ends = [];
});
afterEach(() => {
  for (const end of ends) end();
  expect(frames.size).toBe(0);
});

it('looks thirty times a second and no oftener, all in one round', () => {
  playing();
  const [first, second] = [look(() => true), look(() => true)];
  pass(60, 1000 / 120);
  expect(first.mock.calls.length).toBeGreaterThanOrEqual(14);
  expect(first.mock.calls.length).toBeLessThanOrEqual(18);
  expect(second.mock.calls).toEqual(first.mock.calls);
  expect(frames.size).toBe(1);
});

it('rests when nothing has moved for a second, until the next strike', () => {
  const { strike } = playing();
  let moves = true;
  const [still, moving] = [look(() => false), look(() => moves)];
  pass(200);
  expect(moving).toHaveBeenCalledTimes(200);
  moves = false;
  pass(200);
  expect(frames.size).toBe(0);
  const until = still.mock.calls.length;
  expect(until).toBeLessThan(240);
  strike();
  strike();
  pass(1);
  expect(still).toHaveBeenCalledTimes(until + 1);
});

it('goes on while something sounds, though it is too soft to be shown', () => {
  const { player } = playing();
  player.sounding = true;
  const seen = look(() => false);
  pass(200);
  expect(seen).toHaveBeenCalledTimes(200);
});

it('begins with another player and with whoever comes to look', () => {
  playing();
  const seen = look(() => false);
  pass(200);
  expect(frames.size).toBe(0);
  playing();
  expect(frames.size).toBe(1);
  pass(200);
  look(() => false);
  const until = seen.mock.calls.length;
  pass(1);
  expect(seen).toHaveBeenCalledTimes(until + 1);
});
