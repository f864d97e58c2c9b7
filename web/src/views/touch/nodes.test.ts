import { describe, expect, test } from 'vitest';
import {
  bentTo,
  draggedBend,
  isOnLine,
  moved,
  type Nodes,
  segmentAt,
  snapped,
  withNode,
  withNodeAfter,
  without,
} from './nodes';

const CURVE: Nodes = [
  { x: 0, y: 0, bend: 0 },
  { x: 60, y: 40, bend: 0.2 },
  { x: 127, y: 100, bend: 0 },
];
const LINE = Array.from({ length: 128 }, (_, v) => v);

describe('a curve under a hand', () => {
  test('nodes stay between their neighbours and on the sheet; the ends keep their velocity', () => {
    expect(moved(CURVE, 1, { x: 200, y: 300 })?.[1]).toEqual({ x: 126, y: 127, bend: 0.2 });
    expect(moved(CURVE, 1, { x: -5, y: -5 })?.[1]).toEqual({ x: 1, y: 0, bend: 0.2 });
    expect(moved(CURVE, 0, { x: 30, y: 12 })?.[0]).toEqual({ x: 0, y: 12, bend: 0 });
    expect(moved(CURVE, 7, { x: 1, y: 1 })).toBeNull();
    expect(CURVE[1]).toEqual({ x: 60, y: 40, bend: 0.2 });
  });

  test('a node goes, but neither end', () => {
    expect(without(CURVE, 1)?.map((n) => n.x)).toEqual([0, 127]);
    expect(without(CURVE, 0)).toBeNull();
    expect(without(CURVE, 2)).toBeNull();
  });

  test('a node comes where there is none and room for one', () => {
    expect(withNode(CURVE, { x: 90, y: 5 }, 8)).toEqual({
      nodes: [CURVE[0], CURVE[1], { x: 90, y: 5, bend: 0 }, CURVE[2]],
      number: 2,
    });
    for (const at of [60, 0, 127]) expect(withNode(CURVE, { x: at, y: 5 }, 8)).toBeNull();
    expect(withNode(CURVE, { x: 90, y: 5 }, 3)).toBeNull();
  });

  test('a key adds one in the middle of a segment, on the line', () => {
    expect(withNodeAfter(CURVE, 0, LINE, 8)?.[1]).toEqual({ x: 30, y: 30, bend: 0 });
    expect(withNodeAfter(CURVE, 2, LINE, 8)).toBeNull();
    const close: Nodes = [CURVE[0] as Nodes[0], { x: 1, y: 1, bend: 0 }, CURVE[2] as Nodes[0]];
    expect(withNodeAfter(close, 0, LINE, 8)).toBeNull();
  });

  test('a press bends the line it is on, and up is up whether the curve rises or falls', () => {
    expect([isOnLine(LINE, { x: 50, y: 57 }), isOnLine(LINE, { x: 50, y: 58 })]).toEqual([true, false]);
    expect([segmentAt(CURVE, 60), segmentAt(CURVE, 61), segmentAt(CURVE, 127)]).toEqual([0, 1, 1]);
    expect(draggedBend(CURVE, 1, 0.2, 30)).toBeCloseTo(0.7);
    expect(draggedBend([CURVE[2] as Nodes[0], CURVE[0] as Nodes[0]], 0, 0.2, 30)).toBeCloseTo(-0.3);
    expect(bentTo(CURVE, 1, 4)[1]?.bend).toBe(1);
  });

  test('a node keeps to the nearest limit of a layer that is near', () => {
    expect([snapped(50, [52, 49]), snapped(50, [54]), snapped(50, [])]).toEqual([49, 50, 50]);
  });
});
