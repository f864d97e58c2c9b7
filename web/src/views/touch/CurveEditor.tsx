/**
 * The curve: nodes to drag, lines to bend, the last strike on it, the layers along its output side.
 * The line drawn is the curve as the core works it out; while something is dragged, edits stream and the table follows.
 */

import { type KeyboardEvent, type PointerEvent, useEffect, useRef, useState } from 'react';
import type { Articulation, Curve } from '../../api/calls';
import { rules } from '../../app/kit/rules';
import { type Shown, useStrikes } from '../../app/playing/strikes';
import { layerColour, strengthColour } from '../../ui/colours';
import { newGesture } from '../../ui/gestures';
import { useHeld } from '../../ui/held';

interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

export function TablePath(props: { table: number[]; box: Box; colour: string; width: number }) {
  const { table, box } = props;
  const d = table
    .map(
      (y, x) =>
        `${x ? 'L' : 'M'}${(box.x + (x / 127) * box.width).toFixed(1)} ${(box.y + box.height - (y / 127) * box.height).toFixed(1)}`,
    )
    .join('');
  return <path d={d} fill="none" stroke={props.colour} strokeWidth={props.width} strokeLinejoin="round" />;
}

interface CurveEditorProps {
  curve: Curve;
  /** What plays for each velocity, and the same unrounded. */
  table: number[];
  line: number[];
  stroke: Articulation | null;
  /** Nodes keep to the layers' limits where they come near; Alt lets them pass. */
  snapping: boolean;
  spread: number[] | null;
  /** Another line to compare with. */
  ghost: number[] | null;
  /** Where on this curve a strike lies. */
  pointOf: (last: Shown | null) => Point | null;
  chosen: number | null;
  onChoose: (node: number | null) => void;
  onChange: (curve: Curve, gesture?: string) => void;
  onCopy: () => void;
  onPaste: () => void;
}

/** The last strike: what enters the curve, and what plays, 0 where it is ignored. */
export interface Point {
  comesIn: number;
  plays: number;
}

type Held = { kind: 'node'; node: number } | { kind: 'bend'; node: number; from: number; bend: number };

const NEAR = 3;

/** The nearest limit of a layer, where one is near. */
function snapped(y: number, stroke: Articulation | null): number {
  let best = y;
  for (const layer of stroke?.layers ?? []) {
    for (const limit of [layer.low, layer.high]) {
      if (Math.abs(limit - y) <= NEAR && (best === y || Math.abs(limit - y) < Math.abs(best - y))) best = limit;
    }
  }
  return best;
}

export function CurveEditor(props: CurveEditorProps) {
  const { curve, table, line, stroke, snapping, spread, ghost, pointOf, chosen, onChoose, onChange } = props;
  const frame = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 520, height: 400 });
  const held = useRef<Held | null>(null);
  const gesture = useRef('');
  const { held: draft, hold: setDraft, grip, letGo } = useHeld<Curve>(curve);
  useEffect(() => {
    const node = frame.current;
    if (!node) return;
    const watch = new ResizeObserver(() => setSize({ width: node.clientWidth, height: node.clientHeight }));
    watch.observe(node);
    return () => watch.disconnect();
  }, []);

  const shown = draft ?? curve;
  // A node that a key added is the one the next key means.
  const added = useRef<number | null>(null);
  useEffect(() => {
    if (added.current === null || !shown.nodes[added.current]) return;
    frame.current?.querySelector<SVGElement>(`[data-node="${added.current}"]`)?.focus();
    added.current = null;
  }, [shown]);
  const box: Box = { x: 34, y: 10, width: Math.max(60, size.width - 34 - 30), height: Math.max(60, size.height - 80) };
  const x = (v: number) => box.x + (v / 127) * box.width;
  const y = (v: number) => box.y + box.height - (v / 127) * box.height;
  const change = (nodes: Curve['nodes']) => {
    setDraft({ nodes });
    onChange({ nodes }, gesture.current);
  };
  const at = (event: PointerEvent<SVGElement>, free = false) => {
    const svg = event.currentTarget.ownerSVGElement ?? (event.currentTarget as SVGSVGElement);
    const place = svg.getBoundingClientRect();
    const up = Math.max(0, Math.min(127, Math.round((1 - (event.clientY - place.top - box.y) / box.height) * 127)));
    return {
      x: Math.max(0, Math.min(127, Math.round(((event.clientX - place.left - box.x) / box.width) * 127))),
      y: snapping && !free && !event.altKey ? snapped(up, stroke) : up,
    };
  };
  const moveNode = (number: number, to: { x: number; y: number }) => {
    const nodes = shown.nodes.map((n) => ({ ...n }));
    const node = nodes[number];
    if (!node) return;
    const before = nodes[number - 1];
    const after = nodes[number + 1];
    node.y = Math.max(0, Math.min(127, to.y));
    if (before && after) node.x = Math.max(before.x + 1, Math.min(after.x - 1, to.x));
    change(nodes);
  };
  const down = (event: PointerEvent<SVGElement>) => {
    if (event.button !== 0) return;
    const target = event.target as Element;
    const nodeAt = target.getAttribute('data-node');
    gesture.current = newGesture('curve');
    grip();
    event.currentTarget.setPointerCapture(event.pointerId);
    const place = at(event, true);
    if (nodeAt !== null) {
      onChoose(Number(nodeAt));
      held.current = { kind: 'node', node: Number(nodeAt) };
      return;
    }
    const segment = shown.nodes.findIndex((n, k) => n.x <= place.x && place.x <= (shown.nodes[k + 1]?.x ?? -1));
    const on = table[place.x] ?? 0;
    if (segment >= 0 && Math.abs(on - place.y) <= 7) {
      held.current = { kind: 'bend', node: segment, from: place.y, bend: shown.nodes[segment]?.bend ?? 0 };
      return;
    }
    const free = shown.nodes.every((n) => n.x !== place.x);
    if (segment < 0 || !free || shown.nodes.length >= rules().most_nodes || place.x === 0 || place.x === 127) return;
    const nodes = [...shown.nodes, { ...place, bend: 0 }].sort((a, b) => a.x - b.x);
    held.current = { kind: 'node', node: nodes.findIndex((n) => n.x === place.x) };
    onChoose(held.current.node);
    change(nodes);
  };
  const drag = (event: PointerEvent<SVGElement>) => {
    const what = held.current;
    if (!what) return;
    if (what.kind === 'node') return moveNode(what.node, at(event));
    const place = at(event, true);
    const rises = (shown.nodes[what.node + 1]?.y ?? 0) >= (shown.nodes[what.node]?.y ?? 0) ? 1 : -1;
    const bend = Math.max(-1, Math.min(1, what.bend + ((place.y - what.from) / 60) * rises));
    change(shown.nodes.map((n, k) => (k === what.node ? { ...n, bend: Number(bend.toFixed(2)) } : n)));
  };
  const remove = (number: number) => {
    if (number === 0 || number === shown.nodes.length - 1) return;
    gesture.current = newGesture('curve');
    onChoose(null);
    change(shown.nodes.filter((_, k) => k !== number));
  };
  const shortcut = (event: KeyboardEvent) => {
    if (!(event.ctrlKey || event.metaKey) || event.shiftKey) return;
    if (event.code === 'KeyC') props.onCopy();
    else if (event.code === 'KeyV') props.onPaste();
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  /** A node in the middle of the segment after another, on the line as it is. */
  const addAfter = (number: number) => {
    const [node, next] = [shown.nodes[number], shown.nodes[number + 1]];
    const middle = node && next ? Math.floor((node.x + next.x) / 2) : 0;
    if (!node || middle <= node.x || shown.nodes.length >= rules().most_nodes) return;
    gesture.current = newGesture('curve');
    const nodes = [...shown.nodes];
    nodes.splice(number + 1, 0, { x: middle, y: table[middle] ?? node.y, bend: 0 });
    added.current = number + 1;
    change(nodes);
  };
  const bendAfter = (number: number, by: number) => {
    gesture.current = newGesture('curve');
    const bent = (bend: number) => Number(Math.max(-1, Math.min(1, bend + by)).toFixed(2));
    change(shown.nodes.map((n, k) => (k === number ? { ...n, bend: bent(n.bend ?? 0) } : n)));
  };
  const key = (event: KeyboardEvent, number: number) => {
    const node = shown.nodes[number];
    if (event.key === 'Insert' || event.key === '+') {
      event.preventDefault();
      addAfter(number);
      return;
    }
    if (event.altKey && (event.key === 'ArrowUp' || event.key === 'ArrowDown')) {
      event.preventDefault();
      if (number < shown.nodes.length - 1) bendAfter(number, event.key === 'ArrowUp' ? 0.05 : -0.05);
      return;
    }
    const by = {
      ArrowLeft: [-1, 0],
      ArrowRight: [1, 0],
      ArrowUp: [0, 1],
      ArrowDown: [0, -1],
      PageUp: [0, 10],
      PageDown: [0, -10],
    }[event.key];
    if (node && by) {
      event.preventDefault();
      gesture.current = newGesture('curve');
      moveNode(number, { x: node.x + (by[0] as number), y: node.y + (by[1] as number) });
    } else if (event.key === 'Delete' || event.key === 'Backspace') {
      event.preventDefault();
      remove(number);
    }
  };
  const ignored = table.findIndex((v) => v > 0);
  const most = Math.max(1, ...(spread ?? [1]));
  return (
    <div ref={frame} className="mt-2 min-h-0 grow">
      <svg
        width={size.width}
        height={Math.max(132, size.height)}
        className="block cursor-crosshair touch-none select-none"
        role="group"
        aria-label="Velocity curve"
        data-testid="curve"
        tabIndex={-1}
        onKeyDown={shortcut}
        onPointerDown={down}
        onPointerMove={drag}
        onPointerUp={() => {
          held.current = null;
          letGo();
        }}
        onPointerCancel={() => {
          held.current = null;
          letGo();
        }}
        onDoubleClick={(event) => {
          const node = (event.target as Element).getAttribute('data-node');
          if (node !== null) remove(Number(node));
        }}
      >
        <rect x={box.x} y={box.y} width={box.width} height={box.height} fill="transparent" stroke="var(--line)" />
        {stroke?.layers.map((layer, number) => (
          <g key={number}>
            <rect
              x={box.x}
              y={y(layer.high)}
              width={box.width}
              height={Math.max(0, y(layer.low) - y(layer.high))}
              fill={layerColour(number, stroke.layers.length)}
              opacity={0.28}
            />
            <rect
              x={box.x + box.width + 4}
              y={y(layer.high)}
              width={7}
              height={Math.max(2, y(layer.low) - y(layer.high) - 1)}
              rx={2}
              fill={layerColour(number, stroke.layers.length)}
            />
            <text
              x={box.x + box.width + 15}
              y={(y(layer.low) + y(layer.high)) / 2 + 4}
              className="num"
              fontSize={11.5}
              fill="var(--faint)"
            >
              {number + 1}
            </text>
          </g>
        ))}
        {[0, 32, 64, 96, 127].map((v) => (
          <g key={v}>
            <line x1={x(v)} x2={x(v)} y1={box.y} y2={box.y + box.height} stroke="var(--line)" />
            <line x1={box.x} x2={box.x + box.width} y1={y(v)} y2={y(v)} stroke="var(--line)" />
            <text
              x={x(v)}
              y={box.y + box.height + 16}
              textAnchor="middle"
              className="num"
              fontSize={11.5}
              fill="var(--faint)"
            >
              {v}
            </text>
            <text x={box.x - 6} y={y(v) + 4} textAnchor="end" className="num" fontSize={11.5} fill="var(--faint)">
              {v}
            </text>
          </g>
        ))}
        {ignored > 1 && (
          <g>
            <rect
              x={box.x}
              y={box.y}
              width={x(ignored - 1) - box.x}
              height={box.height}
              fill="var(--ink)"
              opacity={0.08}
            />
            <text x={box.x + 6} y={box.y + 16} fontSize={11.5} fill="var(--soft)">
              ignored
            </text>
          </g>
        )}
        {spread?.map(
          (count, v) =>
            count > 0 && (
              <rect
                key={v}
                x={x(v) - 1.5}
                y={box.y + box.height + 52 - (count / most) * 30}
                width={3}
                height={(count / most) * 30}
                rx={1}
                fill={(table[v] ?? 0) === 0 ? 'var(--edge)' : strengthColour(v / 127)}
              />
            ),
        )}
        {spread && (
          <text x={box.x + box.width} y={box.y + box.height + 65} textAnchor="end" fontSize={11.5} fill="var(--faint)">
            strikes as they came in
          </text>
        )}
        <TablePath table={line} box={box} colour="var(--ink)" width={2.4} />
        {ghost && (
          <g strokeDasharray="6 4" data-testid="curve-ghost">
            <TablePath table={ghost} box={box} colour="var(--leaf)" width={2.4} />
          </g>
        )}
        <LastOn pointOf={pointOf} x={x} y={y} right={box.x + box.width} />
        {shown.nodes.map((node, number) => (
          <circle
            key={number}
            data-node={number}
            role="slider"
            tabIndex={0}
            aria-label={`Node ${number + 1}: ${node.x} plays ${node.y}`}
            aria-valuemin={0}
            aria-valuemax={127}
            aria-valuenow={node.y}
            cx={x(node.x)}
            cy={y(node.y)}
            r={7}
            fill={chosen === number ? 'var(--ink)' : 'var(--card)'}
            stroke="var(--ink)"
            strokeWidth={2}
            className="cursor-move"
            onFocus={() => onChoose(number)}
            onKeyDown={(event) => key(event, number)}
          />
        ))}
      </svg>
    </div>
  );
}

interface LastProps {
  pointOf: CurveEditorProps['pointOf'];
  x: (v: number) => number;
  y: (v: number) => number;
  right: number;
}

/** The last strike on the curve: in from below, out to the right; a cross where it was ignored. */
function LastOn({ pointOf, x, y, right }: LastProps) {
  const strike = pointOf(useStrikes((s) => s.last));
  if (!strike) return null;
  const [cx, cy] = [x(strike.comesIn), y(strike.plays)];
  if (strike.plays === 0) {
    return (
      <g stroke="var(--plum)" strokeWidth={2} data-testid="curve-ignored">
        <path d={`M${cx - 5} ${cy - 5}l10 10m0 -10l-10 10`} fill="none" />
      </g>
    );
  }
  return (
    <g stroke="var(--plum)" data-testid="curve-strike">
      <path d={`M${cx} ${y(0)}V${cy}H${right}`} fill="none" strokeWidth={1.4} strokeDasharray="4 3" />
      <circle cx={cx} cy={cy} r={5} fill="var(--plum)" stroke="var(--card)" strokeWidth={1.5} />
    </g>
  );
}
