/** A curve edited by pointer and keys: drags are shown at once, and every move is sent. */
import { type KeyboardEvent, type PointerEvent, useEffect, useRef } from 'react';
import type { Curve } from '../../api/calls';
import { rules } from '../../app/kit/rules';
import { newGesture } from '../../ui/gestures';
import { useHeld } from '../../ui/held';
import {
  bentTo,
  draggedBend,
  isOnLine,
  moved,
  type Nodes,
  type Place,
  segmentAt,
  withNode,
  withNodeAfter,
  without,
} from './nodes';

type Held = { kind: 'node'; node: number } | { kind: 'bend'; node: number; from: number; bend: number };

const MOVES: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
  PageUp: [0, 10],
  PageDown: [0, -10],
};
const BENDS: Record<string, number> = { ArrowUp: 0.05, ArrowDown: -0.05 };

interface Hands {
  curve: Curve;
  table: number[];
  /** The pointer's position on the chart; `free` turns snapping off. */
  at: (event: PointerEvent<SVGElement>, free?: boolean) => Place;
  onChoose: (node: number | null) => void;
  onChange: (curve: Curve, gesture?: string) => void;
  /** Focus a node that was made by a key. */
  focus: (node: number) => void;
}

export function useCurve({ curve, table, at, onChoose, onChange, focus }: Hands) {
  const held = useRef<Held | null>(null);
  const gesture = useRef('');
  const { held: draft, hold, grip, letGo } = useHeld<Curve>(curve);
  const { nodes } = draft ?? curve;
  // The node added by the last key is the one the next key means.
  const added = useRef<number | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: runs when nodes were added
  useEffect(() => {
    if (added.current === null || !nodes[added.current]) return;
    focus(added.current);
    added.current = null;
  }, [nodes]);

  const change = (to: Nodes | null) => {
    if (!to) return;
    hold({ nodes: to });
    onChange({ nodes: to }, gesture.current);
  };
  const once = (to: Nodes | null) => {
    gesture.current = newGesture('curve');
    change(to);
  };
  const remove = (number: number) => {
    const left = without(nodes, number);
    if (left) onChoose(null);
    once(left);
  };

  const onPointerDown = (event: PointerEvent<SVGElement>) => {
    if (event.button !== 0) return;
    const pressed = (event.target as Element).getAttribute('data-node');
    gesture.current = newGesture('curve');
    grip();
    event.currentTarget.setPointerCapture(event.pointerId);
    const place = at(event, true);
    const segment = segmentAt(nodes, place.x);
    if (pressed !== null) {
      onChoose(Number(pressed));
      held.current = { kind: 'node', node: Number(pressed) };
    } else if (segment !== null && isOnLine(table, place)) {
      held.current = { kind: 'bend', node: segment, from: place.y, bend: nodes[segment]?.bend ?? 0 };
    } else {
      const more = withNode(nodes, place, rules().most_nodes);
      if (!more) return;
      held.current = { kind: 'node', node: more.number };
      onChoose(more.number);
      change(more.nodes);
    }
  };
  const onPointerMove = (event: PointerEvent<SVGElement>) => {
    const what = held.current;
    if (what?.kind === 'node') change(moved(nodes, what.node, at(event)));
    if (what?.kind === 'bend') {
      const bend = draggedBend(nodes, what.node, what.bend, at(event, true).y - what.from);
      change(bentTo(nodes, what.node, bend));
    }
  };
  const drop = () => {
    held.current = null;
    letGo();
  };
  const onDoubleClick = (event: { target: EventTarget }) => {
    const node = (event.target as Element).getAttribute('data-node');
    if (node !== null) remove(Number(node));
  };

  const onNodeKey = (event: KeyboardEvent, number: number) => {
    const node = nodes[number];
    const by = MOVES[event.key];
    const bend = BENDS[event.key];
    if (!node) return;
    if (event.key === 'Insert' || event.key === '+') {
      const more = withNodeAfter(nodes, number, table, rules().most_nodes);
      if (more) added.current = number + 1;
      once(more);
    } else if (event.altKey && bend !== undefined) {
      if (number < nodes.length - 1) once(bentTo(nodes, number, (node.bend ?? 0) + bend));
    } else if (by) {
      once(moved(nodes, number, { x: node.x + by[0], y: node.y + by[1] }));
    } else if (event.key === 'Delete' || event.key === 'Backspace') {
      remove(number);
    } else return;
    event.preventDefault();
  };

  const pointer = { onPointerDown, onPointerMove, onPointerUp: drop, onPointerCancel: drop, onDoubleClick };
  return { nodes, pointer, onNodeKey };
}
