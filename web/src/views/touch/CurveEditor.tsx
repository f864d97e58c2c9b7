/**
 * The velocity curve: nodes to drag, lines to bend, the last strike, and the layers along the output axis. The line is
 * drawn as computed by the core; during a drag, edits stream and the table follows.
 */

import { type KeyboardEvent, type PointerEvent, useEffect, useRef, useState } from 'react';
import type { Articulation, Curve } from '../../api/calls';
import { type Shown, useStrikes } from '../../app/playing/strikes';
import { CameIn, type ChartScale, CurveSheet, scaleOf, TablePath } from './CurveSheet';
import { snapped } from './nodes';
import { useCurve } from './useCurve';

interface CurveEditorProps {
  curve: Curve;
  /** The velocity out for each velocity in, and the same before rounding. */
  table: number[];
  line: number[];
  articulation: Articulation | null;
  /** Nodes snap to layer limits nearby; Alt turns that off. */
  snapping: boolean;
  spread: number[] | null;
  /** Another curve for comparison. */
  ghost: number[] | null;
  /** Where a strike is on this curve. */
  pointOf: (last: Shown | null) => Point | null;
  chosen: number | null;
  onChoose: (node: number | null) => void;
  onChange: (curve: Curve, gesture?: string) => void;
  onCopy: () => void;
  onPaste: () => void;
}

/** The last strike: its velocity in, and the velocity out, 0 where it is ignored. */
export interface Point {
  comesIn: number;
  plays: number;
}

/** Space for the axis on the left, layer numbers on the right, and the counts below. */
const [LEFT, RIGHT, BELOW, TOP] = [34, 30, 80, 10];
const LEAST = 60;

export function CurveEditor(props: CurveEditorProps) {
  const { curve, table, articulation, chosen, onChoose, onChange } = props;
  const frame = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 520, height: 400 });
  useEffect(() => {
    const node = frame.current;
    if (!node) return;
    const watch = new ResizeObserver(() => setSize({ width: node.clientWidth, height: node.clientHeight }));
    watch.observe(node);
    return () => watch.disconnect();
  }, []);
  const scale = scaleOf({
    x: LEFT,
    y: TOP,
    width: Math.max(LEAST, size.width - LEFT - RIGHT),
    height: Math.max(LEAST, size.height - BELOW),
  });
  const { box, x, y } = scale;
  const limits = (articulation?.layers ?? []).flatMap((layer) => [layer.low, layer.high]);
  const at = (event: PointerEvent<SVGElement>, free = false) => {
    const svg = event.currentTarget.ownerSVGElement ?? (event.currentTarget as SVGSVGElement);
    const place = svg.getBoundingClientRect();
    const step = (share: number) => Math.max(0, Math.min(127, Math.round(share * 127)));
    const up = step(1 - (event.clientY - place.top - box.y) / box.height);
    return {
      x: step((event.clientX - place.left - box.x) / box.width),
      y: props.snapping && !free && !event.altKey ? snapped(up, limits) : up,
    };
  };
  const focus = (node: number) => frame.current?.querySelector<SVGElement>(`[data-node="${node}"]`)?.focus();
  const { nodes, pointer, onNodeKey } = useCurve({ curve, table, at, onChoose, onChange, focus });
  const shortcut = (event: KeyboardEvent) => {
    if (!(event.ctrlKey || event.metaKey) || event.shiftKey) return;
    if (event.code === 'KeyC') props.onCopy();
    else if (event.code === 'KeyV') props.onPaste();
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
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
        {...pointer}
      >
        <CurveSheet scale={scale} articulation={articulation} />
        <CameIn scale={scale} table={table} spread={props.spread} />
        <TablePath table={props.line} box={box} colour="var(--ink)" width={2.4} />
        {props.ghost && (
          <g strokeDasharray="6 4" data-testid="curve-ghost">
            <TablePath table={props.ghost} box={box} colour="var(--leaf)" width={2.4} />
          </g>
        )}
        <LastOn pointOf={props.pointOf} scale={scale} />
        {nodes.map((node, number) => (
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
            onKeyDown={(event) => onNodeKey(event, number)}
          />
        ))}
      </svg>
    </div>
  );
}

/** The last strike on the curve: in from below, out to the right; a cross if it was ignored. */
function LastOn({ pointOf, scale }: { pointOf: CurveEditorProps['pointOf']; scale: ChartScale }) {
  const { box, x, y } = scale;
  const right = box.x + box.width;
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
