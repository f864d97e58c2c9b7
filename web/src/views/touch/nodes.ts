/** Changes of a curve's nodes by pointer and keys. Each returns new nodes, or null if nothing changes. */
import type { Curve } from '../../api/calls';

export type Nodes = Curve['nodes'];
export interface Place {
  x: number;
  y: number;
}

const MOST = 127;
/** How near the line a press bends it, and the drag distance of a whole bend, in velocity steps. */
const ON_LINE = 7;
const WHOLE_BEND = 60;
/** The distance within which a node snaps to a layer limit. */
const NEAR = 3;

const clamp = (value: number, least: number, most: number) => Math.max(least, Math.min(most, value));
const round2 = (value: number) => Number(value.toFixed(2));

/** The nearest layer limit, if one is near. */
export function snapped(y: number, limits: number[]): number {
  let best = y;
  for (const limit of limits) {
    if (Math.abs(limit - y) <= NEAR && (best === y || Math.abs(limit - y) < Math.abs(best - y))) best = limit;
  }
  return best;
}

/** A node moved between its neighbours; the first and last keep their velocity in. */
export function moved(nodes: Nodes, number: number, to: Place): Nodes | null {
  const node = nodes[number];
  if (!node) return null;
  const [before, after] = [nodes[number - 1], nodes[number + 1]];
  const x = before && after ? clamp(to.x, before.x + 1, after.x - 1) : node.x;
  return nodes.map((each, k) => (k === number ? { ...each, x, y: clamp(to.y, 0, MOST) } : each));
}

/** All nodes but one; the first and last stay. */
export function without(nodes: Nodes, number: number): Nodes | null {
  return number === 0 || number === nodes.length - 1 ? null : nodes.filter((_, k) => k !== number);
}

/** The line after a node bent to `bend`, in [-1, 1]. */
export const bentTo = (nodes: Nodes, number: number, bend: number): Nodes =>
  nodes.map((each, k) => (k === number ? { ...each, bend: round2(clamp(bend, -1, 1)) } : each));

/** A bend of `from` dragged by `up` steps: upwards always raises the line's middle. */
export function draggedBend(nodes: Nodes, number: number, from: number, up: number): number {
  const rises = (nodes[number + 1]?.y ?? 0) >= (nodes[number]?.y ?? 0) ? 1 : -1;
  return from + (up / WHOLE_BEND) * rises;
}

/** The segment at a position, by its first node; null if there is none. */
export function segmentAt(nodes: Nodes, x: number): number | null {
  const found = nodes.findIndex((node, k) => node.x <= x && x <= (nodes[k + 1]?.x ?? -1));
  return found < 0 ? null : found;
}

export const isOnLine = (table: number[], at: Place): boolean => Math.abs((table[at.x] ?? 0) - at.y) <= ON_LINE;

/** With another node, and its number. */
export function withNode(nodes: Nodes, at: Place, most: number): { nodes: Nodes; number: number } | null {
  const taken = nodes.some((node) => node.x === at.x);
  if (taken || segmentAt(nodes, at.x) === null || nodes.length >= most || at.x === 0 || at.x === MOST) return null;
  const more = [...nodes, { ...at, bend: 0 }].sort((a, b) => a.x - b.x);
  return { nodes: more, number: more.findIndex((node) => node.x === at.x) };
}

/** With a node in the middle of the next segment, on the present line. */
export function withNodeAfter(nodes: Nodes, number: number, table: number[], most: number): Nodes | null {
  const [node, next] = [nodes[number], nodes[number + 1]];
  const middle = node && next ? Math.floor((node.x + next.x) / 2) : 0;
  if (!node || middle <= node.x || nodes.length >= most) return null;
  return nodes.toSpliced(number + 1, 0, { x: middle, y: table[middle] ?? node.y, bend: 0 });
}
