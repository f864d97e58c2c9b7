/** Channels as nodes: where they go, what follows an edit without being made again, solo, and what is turned by hand. */
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { PlayChannel, PlayHead } from '../api/calls';

vi.mock('./strip.worklet.ts?worker&url', () => ({ default: 'strip.js' }));

/** A node that knows what it is connected to. */
class FakeNode {
  static made = 0;
  to: FakeNode[] = [];
  gain = {
    value: 1,
    planned: [] as [string, number, number][],
    cancelScheduledValues: () => (this.gain.planned = []),
    setTargetAtTime: (value: number, at: number) => {
      this.gain.planned.push(['glide', value, at]);
      this.gain.value = value;
    },
    setValueAtTime: (value: number, at: number) => this.gain.planned.push(['there', value, at]),
  };
  constructor(
    readonly context: unknown,
    options: { gain?: number } = {},
  ) {
    FakeNode.made += 1;
    this.gain.value = options.gain ?? 1;
  }
  connect(node: FakeNode) {
    this.to.push(node);
    return node;
  }
  disconnect(node?: FakeNode) {
    this.to = node ? this.to.filter((each) => each !== node) : [];
  }
}
/** A strip's node, with what it was told. */
const told: unknown[] = [];
class FakeWorklet extends FakeNode {
  port = { postMessage: (said: unknown) => told.push(said), onmessage: null };
  constructor(context: unknown, _name: string, options: { processorOptions: { treatments: unknown } }) {
    super(context);
    told.push(['begins', options.processorOptions.treatments]);
  }
}
for (const name of ['GainNode', 'ChannelMergerNode', 'ChannelSplitterNode']) vi.stubGlobal(name, FakeNode);
vi.stubGlobal('AudioWorkletNode', FakeWorklet);

const { Graph } = await import('./graph');
const { loadStrips } = await import('./strip');

const context = { currentTime: 0, audioWorklet: { addModule: async () => undefined } } as unknown as BaseAudioContext;
const channel = (id: string, more: Partial<PlayChannel> = {}): PlayChannel =>
  ({ id, name: id, width: 'mono', output: 0, matrix: [[1], [1]], treatments: [], ...more }) as PlayChannel;
const head = (channels: PlayChannel[], more: Partial<PlayHead> = {}): PlayHead =>
  ({
    channels,
    outputs: [1, 2, 3].map((number) => ({ number, name: `${number}`, width: 'stereo' })),
    main: channel('main', {
      width: 'stereo',
      output: 1,
      matrix: [
        [1, 0],
        [0, 1],
      ],
    }),
    ...more,
  }) as unknown as PlayHead;
const node = (of: unknown) => of as FakeNode;
const out = (graph: InstanceType<typeof Graph>, number: number) => node(graph.outputs.get(number));
/** What a channel plays through its cells, in the order they were made. */
const gains = (graph: InstanceType<typeof Graph>, id: string): number[] => {
  const splitter = node(graph.entering(id)).to.find((each) => each.to.length) as FakeNode;
  return splitter.to.map((cell) => cell.gain.value);
};

beforeEach(() => {
  told.length = 0;
});

describe('a graph', () => {
  it('leads every channel to main or to its output, and main to the first', () => {
    const graph = new Graph(context, head([channel('kick'), channel('snare', { output: 3 })]));
    expect(node(graph.leaving('kick')).to).toEqual([node(graph.entering('main'))]);
    expect(node(graph.leaving('snare')).to).toEqual([out(graph, 3)]);
    expect(node(graph.leaving('main')).to).toEqual([out(graph, 1)]);
    expect(graph.entrance(1)).toBe(graph.entering('snare'));
    expect([graph.entrance(9), graph.leaving('triangle')]).toEqual([undefined, undefined]);
  });

  it('follows an edit with the nodes it has: gains move, and a channel is sent elsewhere', () => {
    const graph = new Graph(context, head([channel('kick'), channel('snare')]));
    const made = FakeNode.made;
    const [from, to] = [graph.entering('kick'), graph.leaving('kick')];
    graph.update(head([channel('kick', { matrix: [[0.5], [0.25]], output: 2 }), channel('snare')]));
    expect(FakeNode.made).toBe(made);
    expect([graph.entering('kick'), graph.leaving('kick')]).toEqual([from, to]);
    expect(gains(graph, 'kick')).toEqual([0.5, 0.25]);
    expect(node(to).to).toEqual([out(graph, 2)]);
    expect(gains(graph, 'snare')).toEqual([1, 1]);
  });

  it('gives all that is entered an input that goes again, so that what is silent is passed over', () => {
    const graph = new Graph(context, head([channel('kick'), channel('snare')]));
    const plugged = vi.spyOn(FakeNode.prototype, 'connect');
    const unplugged = vi.spyOn(FakeNode.prototype, 'disconnect');
    graph.rest();
    const entered = [
      ...['main', 'kick', 'snare'].map((id) => node(graph.entering(id))),
      ...[1, 2, 3].map((n) => out(graph, n)),
    ];
    expect(new Set(plugged.mock.calls.flat())).toEqual(new Set(entered));
    expect(unplugged.mock.calls).toEqual(plugged.mock.calls);
    vi.restoreAllMocks();
  });

  it('plans where a gain arrives too, for a channel through which nothing passes, and only for what moves', () => {
    const graph = new Graph(context, head([channel('kick'), channel('snare')]));
    const cells = (id: string) =>
      (node(graph.entering(id)).to.find((each) => each.to.length) as FakeNode).to.map((cell) => cell.gain.planned);
    graph.solo(new Set(['snare']));
    expect(cells('kick')[0]?.map(([how, value]) => [how, value])).toEqual([
      ['glide', 0],
      ['there', 0],
    ]);
    expect(cells('kick')[0]?.[1]?.[2]).toBeGreaterThan(0.05);
    expect(cells('snare')).toEqual([[], []]);
    // Turned again before it has arrived, it does not come back to where it was going.
    graph.solo(new Set());
    expect(cells('kick')[0]?.map(([, value]) => value)).toEqual([1, 1]);
  });

  it('makes a channel anew where its width changes, and lets go of one that has gone when it has faded', () => {
    vi.useFakeTimers();
    const graph = new Graph(context, head([channel('kick'), channel('snare')]));
    const before = graph.leaving('kick');
    const wide = channel('kick', {
      width: 'stereo',
      matrix: [
        [1, 0],
        [0, 1],
      ],
    });
    graph.update(head([wide]));
    expect(graph.leaving('kick')).not.toBe(before);
    // What rings in it is not cut off.
    expect(node(before).to).toHaveLength(1);
    vi.advanceTimersByTime(300);
    vi.useRealTimers();
    expect(node(before).to).toEqual([]);
    expect(graph.leaving('snare')).toBeUndefined();
    expect(graph.entrance(0)).toBe(graph.entering('kick'));
  });

  it('gives everything a new main where the first output became mono', () => {
    const graph = new Graph(context, head([channel('kick'), channel('snare', { output: 2 })]));
    const before = graph.entering('main');
    const main = channel('main', { width: 'stereo', output: 1, matrix: [[0.5, 0.5]] });
    graph.update(head([channel('kick'), channel('snare', { output: 2 })], { main }));
    expect(graph.entering('main')).not.toBe(before);
    expect(node(graph.leaving('kick')).to).toEqual([node(graph.entering('main'))]);
    expect(node(graph.leaving('snare')).to).toEqual([out(graph, 2)]);
  });

  it('hears what is soloed alone, main always, and all again', () => {
    const graph = new Graph(context, head([channel('kick'), channel('snare')]));
    graph.solo(new Set(['snare']));
    expect([gains(graph, 'kick'), gains(graph, 'snare'), gains(graph, 'main')]).toEqual([
      [0, 0],
      [1, 1],
      [1, 0, 0, 1],
    ]);
    // A level that is turned meanwhile does not bring it back.
    graph.turn(channel('kick', { matrix: [[2], [2]] }));
    expect(gains(graph, 'kick')).toEqual([0, 0]);
    graph.solo(new Set());
    expect(gains(graph, 'kick')).toEqual([1, 1]);
  });

  it('hears a channel as it is turned, without the head, and not one of another shape', () => {
    const graph = new Graph(context, head([channel('kick'), channel('snare')]));
    graph.turn(channel('snare', { matrix: [[0.3], [0.6]] }));
    expect([gains(graph, 'snare'), gains(graph, 'kick')]).toEqual([
      [0.3, 0.6],
      [1, 1],
    ]);
    graph.turn(
      channel('main', {
        width: 'stereo',
        output: 1,
        matrix: [
          [0.5, 0],
          [0, 0.5],
        ],
      }),
    );
    expect(gains(graph, 'main')).toEqual([0.5, 0, 0, 0.5]);
    graph.turn(
      channel('snare', {
        width: 'stereo',
        matrix: [
          [1, 0],
          [0, 1],
        ],
      }),
    );
    expect(gains(graph, 'snare')).toEqual([0.3, 0.6]);
    graph.turn(channel('triangle'));
  });
});

describe('a strip', () => {
  const drive = { kind: 'drive', drive_db: 6 } as const;
  const treated = (drive_db: number) => channel('kick', { treatments: [{ ...drive, drive_db }] });

  it('is put in when a channel is first treated, told what changes once, and told to go with its channel', async () => {
    await loadStrips(context);
    vi.useFakeTimers();
    const graph = new Graph(context, head([channel('kick')]));
    expect(told).toEqual([]);
    graph.update(head([treated(6)]));
    // What is put in while sound passes begins flat, and moves from there.
    expect(told).toEqual([['begins', []], [{ ...drive, drive_db: 6 }]]);
    graph.update(head([treated(6)]));
    expect(told).toHaveLength(2);
    graph.update(head([treated(9)]));
    expect(told.at(-1)).toEqual([{ ...drive, drive_db: 9 }]);
    graph.update(head([channel('kick')]));
    expect(told.at(-1)).toEqual([]);
    graph.update(head([]));
    vi.advanceTimersByTime(300);
    vi.useRealTimers();
    expect(told.at(-1)).toBeNull();
  });

  it('that a render begins with is as it is set from the first frame', async () => {
    await loadStrips(context);
    new Graph(context, head([treated(12)]));
    expect(told).toEqual([['begins', [{ ...drive, drive_db: 12 }]]]);
  });

  it('sends a copy into a bus, which goes on, and lets go of a send that was taken away', () => {
    const bus = channel('crush', {
      width: 'stereo',
      output: 2,
      matrix: [
        [1, 0],
        [0, 1],
      ],
    });
    const sent = { into: 1, matrix: [[0.5], [0.25]] };
    const graph = new Graph(context, head([channel('kick', { sends: [sent] }), bus]));
    const into = node(graph.entering('crush'));
    const splitter = node(graph.entering('kick')).to.find((each) => each.to.length) as FakeNode;
    expect(splitter.to.map((cell) => cell.gain.value)).toEqual([1, 1, 0.5, 0.25]);
    const leaving = splitter.to[2]?.to[0] as FakeNode;
    expect(leaving.to).toEqual([into]);
    expect(node(graph.leaving('crush')).to).toEqual([out(graph, 2)]);
    // Turned, it moves with the nodes it has; the bus soloed, only what flows into it is heard, along that way.
    const made = FakeNode.made;
    graph.turn(channel('kick', { sends: [{ into: 1, matrix: [[0.1], [0.2]] }] }));
    expect(splitter.to.map((cell) => cell.gain.value)).toEqual([1, 1, 0.1, 0.2]);
    graph.solo(new Set(['crush']));
    expect(splitter.to.map((cell) => cell.gain.value)).toEqual([0, 0, 0.5, 0.25]);
    graph.solo(new Set());
    expect(FakeNode.made).toBe(made);
    graph.update(head([channel('kick'), bus]));
    expect(splitter.to).toHaveLength(2);
    expect(leaving.to).toEqual([]);
  });

  it('leads a channel that goes into a bus there alone, also when the bus was made after it or anew', () => {
    const bus = (matrix: number[][]) => channel('crush', { width: 'stereo', matrix });
    const graph = new Graph(context, head([channel('kick')]));
    graph.update(
      head([
        channel('kick', { into: 1 }),
        bus([
          [1, 0],
          [0, 1],
        ]),
      ]),
    );
    expect(node(graph.leaving('kick')).to).toEqual([node(graph.entering('crush'))]);
    graph.update(head([channel('kick', { into: 1 }), bus([[0.5, 0.5]])]));
    expect(node(graph.leaving('kick')).to).toEqual([node(graph.entering('crush'))]);
    graph.update(head([channel('kick')]));
    expect(node(graph.leaving('kick')).to).toEqual([node(graph.entering('main'))]);
  });
});
