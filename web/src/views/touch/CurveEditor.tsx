/**
 * The curve: nodes to drag, lines to bend, the last strike on it, the layers along its output side.
 * The line drawn is the table the core compiled; while something is dragged, edits stream and the table follows.
 */
import { type KeyboardEvent, type PointerEvent, useEffect, useRef, useState } from 'react';
import type { Articulation, Curve } from '../../api/calls';
import { layerColour } from '../../app/format';
import { newGesture } from '../../app/kitStore';

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
  table: number[];
  stroke: Articulation | null;
  spread: number[] | null;
  strike: { comesIn: number; plays: number } | null;
  chosen: number | null;
  onChoose: (node: number | null) => void;
  onChange: (curve: Curve, gesture?: string) => void;
}

type Held = { kind: 'node'; node: number } | { kind: 'bend'; node: number; from: number; bend: number };

const MOST_NODES = 32;

export function CurveEditor({ curve, table, stroke, spread, strike, chosen, onChoose, onChange }: CurveEditorProps) {
  const frame = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 520, height: 400 });
  const held = useRef<Held | null>(null);
  const gesture = useRef('');
  const [draft, setDraft] = useState<Curve | null>(null);
  useEffect(() => {
    const node = frame.current;
    if (!node) return;
    const watch = new ResizeObserver(() => setSize({ width: node.clientWidth, height: node.clientHeight }));
    watch.observe(node);
    return () => watch.disconnect();
  }, []);
  // What was dragged to is shown until the studio has answered with it.
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new curve is what it waits for
  useEffect(() => {
    if (!held.current) setDraft(null);
  }, [curve]);

  const shown = draft ?? curve;
  const box: Box = { x: 34, y: 10, width: Math.max(60, size.width - 34 - 30), height: Math.max(60, size.height - 72) };
  const x = (v: number) => box.x + (v / 127) * box.width;
  const y = (v: number) => box.y + box.height - (v / 127) * box.height;
  const change = (nodes: Curve['nodes']) => {
    setDraft({ nodes });
    onChange({ nodes }, gesture.current);
  };
  const at = (event: PointerEvent<SVGElement>) => {
    const svg = event.currentTarget.ownerSVGElement ?? (event.currentTarget as SVGSVGElement);
    const place = svg.getBoundingClientRect();
    return {
      x: Math.max(0, Math.min(127, Math.round(((event.clientX - place.left - box.x) / box.width) * 127))),
      y: Math.max(0, Math.min(127, Math.round((1 - (event.clientY - place.top - box.y) / box.height) * 127))),
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
    event.currentTarget.setPointerCapture(event.pointerId);
    const place = at(event);
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
    if (segment < 0 || !free || shown.nodes.length >= MOST_NODES || place.x === 0 || place.x === 127) return;
    const nodes = [...shown.nodes, { ...place, bend: 0 }].sort((a, b) => a.x - b.x);
    held.current = { kind: 'node', node: nodes.findIndex((n) => n.x === place.x) };
    onChoose(held.current.node);
    change(nodes);
  };
  const drag = (event: PointerEvent<SVGElement>) => {
    const what = held.current;
    if (!what) return;
    const place = at(event);
    if (what.kind === 'node') return moveNode(what.node, place);
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
  const key = (event: KeyboardEvent, number: number) => {
    const node = shown.nodes[number];
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
        onPointerDown={down}
        onPointerMove={drag}
        onPointerUp={() => {
          held.current = null;
        }}
        onPointerCancel={() => {
          held.current = null;
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
                fill={v < ignored ? 'var(--edge)' : 'var(--v3)'}
              />
            ),
        )}
        {spread && (
          <text x={box.x + box.width} y={box.y + box.height + 34} textAnchor="end" fontSize={11.5} fill="var(--faint)">
            your strikes
          </text>
        )}
        <TablePath table={table} box={box} colour="var(--ink)" width={2.4} />
        {strike && strike.plays > 0 && (
          <g stroke="var(--plum)" data-testid="curve-strike">
            <path
              d={`M${x(strike.comesIn)} ${box.y + box.height}V${y(strike.plays)}H${box.x + box.width}`}
              fill="none"
              strokeWidth={1.4}
              strokeDasharray="4 3"
            />
            <circle
              cx={x(strike.comesIn)}
              cy={y(strike.plays)}
              r={5}
              fill="var(--plum)"
              stroke="var(--card)"
              strokeWidth={1.5}
            />
          </g>
        )}
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
