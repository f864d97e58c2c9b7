/** The simulated kits: a pad sends what its habits say, later what shakes with it, and a pedal its note when it is shut. */
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import type { ElectronicKit, Pad } from '../../api/calls';

const sent: { number: number; value: number; kind: string }[] = [];
vi.mock('./door', () => ({
  receive: (message: (typeof sent)[number]) => sent.push(message),
  onAnything: () => undefined,
}));
vi.mock('../kit/kitStore', () => ({ useKit: { getState: () => ({ player: null, say: () => undefined }) } }));
const { holdPad, movePedal, strikePad } = await import('./simulatedKits');
const { useInputs } = await import('./inputs');

const pad = (name: string, note: number, more: Partial<Pad> = {}) =>
  ({ name, note, edge_note: null, stoppable: false, ...more }) as Pad;
const snare = pad('Snare', 38, { edge_note: 40 });
const tom = pad('Tom', 48);
const hats = pad('Hats', 42);
const kit = {
  id: 'k',
  pads: [snare, tom, hats],
  softest: 10,
  hardest: 110,
  hat_pad: 'Hats',
  hat_notes: [
    { open_from: 0, note: 42 },
    { open_from: 64, note: 46 },
  ],
  cross_talk: [
    { pad: 'Snare', into: 'Tom', from_velocity: 90, chance: 1, low: 5, high: 5, soonest_ms: 8, latest_ms: 8 },
  ],
  doubles: [{ pad: 'Tom', chance: 1, soonest_ms: 20, latest_ms: 20 }],
  openness_controller: 4,
  pedal_note: 44,
  chatter: null,
} as unknown as ElectronicKit;
const notes = () => sent.map(({ number, value }) => [number, value]);

beforeEach(() => {
  sent.length = 0;
  vi.useFakeTimers();
});
afterEach(() => vi.useRealTimers());

it('strikes between its softest and its hardest, at the edge by another note', () => {
  strikePad(kit, snare, 1);
  strikePad(kit, snare, 64, true);
  expect(notes()).toEqual([
    [38, 10],
    [40, 60],
  ]);
});

it('shakes its neighbour when it is hit hard, a moment later, and doubles', () => {
  strikePad(kit, snare, 127);
  expect(notes()).toEqual([[38, 110]]);
  vi.advanceTimersByTime(8);
  expect(notes()).toEqual([
    [38, 110],
    [48, 5],
  ]);
  sent.length = 0;
  strikePad(kit, tom, 127);
  vi.advanceTimersByTime(20);
  const [, again] = notes();
  expect(again?.[0]).toBe(48);
  expect(again?.[1]).toBeGreaterThanOrEqual(33);
  expect(again?.[1]).toBeLessThanOrEqual(77);
});

it('sends another note for open hats, openness as it moves, and the pedal’s note once it is shut', () => {
  useInputs.setState({ openness: 100 });
  strikePad(kit, hats, 64);
  movePedal(kit, 30);
  strikePad(kit, hats, 64);
  movePedal(kit, 30);
  movePedal(kit, 0);
  expect(sent.map(({ kind, number }) => `${kind} ${number}`)).toEqual([
    'note 46',
    'controller 4',
    'note 42',
    'controller 4',
    'note 44',
  ]);
});

it('is held only where it can be stopped', () => {
  holdPad(kit, tom, true);
  holdPad(kit, pad('Crash', 49, { stoppable: true }), true);
  expect(sent.map(({ kind, number, value }) => [kind, number, value])).toEqual([['pressure', 49, 127]]);
});
