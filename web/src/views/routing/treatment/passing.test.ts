/** What passes a channel is read once for all who draw it, wherever its nodes are now, and while it sounds. */
import { beforeEach, expect, it, vi } from 'vitest';
import { useKit } from '../../../app/kit/kitStore';
import { watchPassing } from './passing';

let frames: ((time: number) => void)[] = [];
let reads = 0;
class FakeNode {
  context = {};
  heard = new Set<unknown>();
  connect = (node: unknown) => this.heard.add(node);
  disconnect = (node: unknown) => {
    if (!this.heard.delete(node)) throw new DOMException('not connected', 'InvalidAccessError');
  };
}
vi.stubGlobal(
  'AnalyserNode',
  class {
    getFloatFrequencyData = (levels: Float32Array) => {
      reads += 1;
      levels[0] = -reads;
    };
  },
);
vi.stubGlobal('requestAnimationFrame', (frame: (time: number) => void) => frames.push(frame));
vi.stubGlobal('cancelAnimationFrame', () => {
  frames = [];
});
let strike = () => {};
const onStrike = (heard: () => void) => {
  strike = heard;
};

let [from, to] = [new FakeNode(), new FakeNode()];
let [peak, reduction] = [0.5, 0];
let now = 0;
/** So many frames drawn, each `apart` ms after the one before. */
function look(times = 1, apart = 40) {
  for (let k = 0; k < times; k += 1) {
    now += apart;
    const due = frames;
    frames = [];
    for (const frame of due) frame(now);
  }
}

beforeEach(() => {
  [from, to, peak, reduction, reads, frames] = [new FakeNode(), new FakeNode(), 0.5, 0, 0, []];
  useKit.setState({
    player: {
      onStrike,
      context: { sampleRate: 48_000 },
      entering: () => from,
      leaving: () => to,
      enteringPeak: () => peak,
      reduction: () => reduction,
    } as never,
  });
});

it('is read once a look, however many draw it', () => {
  const drawn: number[][] = [[], []];
  const stops = drawn.map((list) => watchPassing('snare', (passing) => list.push(passing.entering[0] as number)));
  look(3);
  expect(reads).toBe(6);
  expect(drawn[0]).toEqual([-1, -3, -5]);
  expect(drawn[1]).toEqual(drawn[0]);
  for (const stop of stops) stop();
});

it('is followed to nodes that were made anew, and let go of when nobody looks', () => {
  const stop = watchPassing('snare', () => undefined);
  look();
  const before = from;
  expect([from.heard.size, to.heard.size]).toEqual([1, 1]);
  from = new FakeNode();
  look();
  expect([before.heard.size, from.heard.size]).toEqual([0, 1]);
  stop();
  expect([from.heard.size, to.heard.size, frames.length]).toEqual([0, 0, 0]);
});

it('comes to rest in silence, and goes on with next strike, while it sounds or something lets go', () => {
  const draw = vi.fn();
  const stop = watchPassing('snare', draw);
  look();
  peak = 0;
  look(100);
  const still = draw.mock.calls.length;
  expect(still).toBeLessThan(40);
  look(20);
  expect(draw).toHaveBeenCalledTimes(still);
  strike();
  reduction = 3;
  look();
  expect(draw).toHaveBeenCalledTimes(still + 1);
  expect(draw.mock.lastCall?.[0]).toMatchObject({ peak: 0, reduction: 3, rate: 48_000 });
  [peak, reduction] = [0.2, 0];
  look();
  expect(draw).toHaveBeenCalledTimes(still + 2);
  stop();
});

it('waits for a player', () => {
  const draw = vi.fn();
  useKit.setState({ player: null });
  const stop = watchPassing('snare', draw);
  look(3);
  expect(draw).not.toHaveBeenCalled();
  stop();
});

it('goes on where the channel it looked at was taken away, with all that listened to it', () => {
  const stop = watchPassing('snare', () => {});
  look();
  from.heard.clear();
  to.heard.clear();
  useKit.setState({
    player: {
      onStrike,
      context: { sampleRate: 48_000 },
      entering: () => undefined,
      leaving: () => undefined,
      enteringPeak: () => 0,
      reduction: () => 0,
    } as never,
  });
  expect(() => look(2)).not.toThrow();
  expect(() => stop()).not.toThrow();
});
