/** Voices: how many sound at once, and which are let go for newer ones. */
import { beforeEach, expect, it, vi } from 'vitest';
import type { PlayHead } from '../api/calls';
import type { Sounding } from './striker';
import { Voices } from './voices';

const RATE = 1000;

class Buffer {
  readonly sampleRate = RATE;
  readonly length: number;
  readonly numberOfChannels = 1;
  private data: Float32Array;
  constructor({ length }: { length: number }) {
    this.length = length;
    this.data = new Float32Array(length).fill(0.5);
  }
  getChannelData = () => this.data;
}
/** What was done to sources and to what holds them, in its order. */
let events: string[] = [];
class Node {
  constructor(private name = 'gain') {}
  connect(to: Node) {
    events.push(`${this.name} to ${to.name}`);
  }
  disconnect() {
    events.push(`${this.name} gone`);
  }
}
class Merger extends Node {
  constructor() {
    super('merger');
  }
}
class Splitter extends Node {
  constructor() {
    super('splitter');
  }
}
class Source extends Node {
  static made: Source[] = [];
  buffer: Buffer;
  started = Number.NaN;
  stopped: number | null = null;
  onended: (() => void) | null = null;
  private whenEnded = () => {};
  addEventListener = (_: 'ended', listener: () => void) => {
    this.whenEnded = listener;
  };
  end() {
    this.onended?.();
    this.whenEnded();
  }
  constructor(_: unknown, { buffer }: { buffer: Buffer }) {
    super('source');
    this.buffer = buffer;
    Source.made.push(this);
    events.push('make');
  }
  start(when: number) {
    this.started = when;
    events.push('start');
  }
  stop(when: number) {
    this.stopped = when;
  }
}
vi.stubGlobal('AudioBufferSourceNode', Source);
vi.stubGlobal('AudioBuffer', Buffer);
vi.stubGlobal('ChannelMergerNode', Merger);
vi.stubGlobal('ChannelSplitterNode', Splitter);

const head = { feeds: [{ piece: 'ride', mics: [[{ channel: 0, gain: 1 }]] }] } as unknown as PlayHead;
const graph = { entrance: () => new Node('channel'), main: { input: {} } };
const sounds = { ready: () => new Buffer({ length: 2000 }) };
const made = (most?: number) =>
  new Voices({ sampleRate: RATE, currentTime: 0.08 } as never, graph as never, sounds as never, head, most);
const strike = { gain: 1, tuning: 0, cutoff: null, attack: 0, piece: { id: 'ride' } };
const sounding = (voices = 1) =>
  ({
    ...strike,
    articulation: { id: 'ride/bow', chokes: [] },
    take: { voices: Array.from({ length: voices }, () => ({ mic: 0, gain: 1, sound: {} })) },
  }) as unknown as Sounding;

beforeEach(() => {
  [Source.made, events] = [[], []];
});

it('holds all microphones of a strike until the last is started', () => {
  made().strike([sounding(3), sounding(2)], 100);
  const five = <T>(what: T) => Array(5).fill(what);
  expect(events.filter((event) => event !== 'splitter to channel')).toEqual([
    ...five('make'),
    ...five('source to merger'),
    ...five('start'),
    'merger to splitter',
  ]);
  expect(events.indexOf('start')).toBeGreaterThan(events.lastIndexOf('splitter to channel'));
  expect(Source.made.map((source) => source.started)).toEqual(five(0.1));
  // What held them goes with the last of them.
  events = [];
  const [first, ...others] = Source.made;
  for (const source of others) source.end();
  expect(events).toEqual([]);
  first?.end();
  expect(events).toEqual(['merger gone', 'splitter gone']);
  // What begins later is started long before, and what is alone is not early.
  events = [];
  made().strike([sounding(2)], 131);
  made().strike([sounding(1)], 100);
  const later = ['make', 'make', 'source to channel', 'source to channel', 'start', 'start'];
  expect(events).toEqual([...later, 'make', 'source to channel', 'start']);
});

it('lets the oldest go, faded, when more than it may would sound', () => {
  const voices = made(4);
  expect(voices.strike([sounding(2)], 100)).toBe(0);
  expect(voices.strike([sounding(2)], 200)).toBe(0);
  expect(voices.strike([sounding(1)], 300)).toBe(1);
  const [first, second, third] = Source.made as [Source, Source, Source];
  expect([first.stopped, second.stopped, third.stopped]).toEqual([0.3, null, null]);
  const tail = Source.made.at(-1) as Source;
  expect(tail.started).toBe(0.3);
  // It dies away with a time constant of 5 ms.
  expect(tail.buffer.getChannelData()[0]).toBe(0.5);
  expect(tail.buffer.getChannelData()[5]).toBeCloseTo(0.5 / Math.E, 5);
  // What has been let go counts no more, nor what has ended.
  expect(voices.strike([sounding(1)], 400)).toBe(1);
  expect(second.stopped).toBe(0.4);
  third.end();
  expect(voices.strike([sounding(1)], 500)).toBe(0);
});

it('lets nothing go for a silence, nor where there is no end', () => {
  const voices = made(1);
  voices.strike([sounding(1)], 100);
  expect(voices.strike([], 200, null, [])).toBe(0);
  const endless = made();
  for (let k = 0; k < 300; k += 1) expect(endless.strike([sounding(1)], k)).toBe(0);
  expect(endless.count).toBe(300);
});
