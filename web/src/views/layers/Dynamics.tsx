/** The dynamics chart: velocity across, measured loudness up, a dot a take, bands for layers, boundaries to drag. */
import { type KeyboardEvent, type PointerEvent, useEffect, useRef, useState } from 'react';
import type { Articulation } from '../../api/calls';
import { layerColour, minus } from '../../app/format';
import { newGesture, useKit } from '../../app/kitStore';
import type { Shown } from '../../app/strikes';

const LEFT = 34;
const TOP = 8;
const HEIGHT = 178;

export function Dynamics({ stroke, linked, hit }: { stroke: Articulation; linked: boolean; hit: Shown | null }) {
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(480);
  useEffect(() => {
    const node = box.current;
    if (!node) return;
    const watch = new ResizeObserver(() => setWidth(Math.max(260, node.clientWidth)));
    watch.observe(node);
    return () => watch.disconnect();
  }, []);
  const span = width - LEFT - 10;
  const x = (velocity: number) => LEFT + ((velocity - 0.5) / 127) * span;
  const levels = stroke.takes.map((take) => take.level_db);
  const top = Math.ceil((Math.max(...levels, -20) + 2) / 6) * 6;
  const bottom = Math.min(top - 24, Math.floor((Math.min(...levels, -20) - 2) / 6) * 6);
  const y = (level: number) => TOP + ((top - level) / (top - bottom)) * HEIGHT;
  const every = top - bottom > 40 ? 12 : 6;
  const lines = [];
  for (let level = Math.floor(top / every) * every; level >= bottom; level -= every) lines.push(level);
  const byId = new Map(stroke.takes.map((take) => [take.id, take]));
  const gaps = gapsOf(stroke);
  return (
    <div ref={box} className="mt-1 grow">
      <svg
        width={width}
        height={TOP + HEIGHT + 34}
        className="block touch-none select-none"
        role="group"
        aria-label="Dynamics chart"
      >
        {lines.map((level) => (
          <g key={level}>
            <line x1={LEFT} x2={width - 10} y1={y(level)} y2={y(level)} stroke="var(--line)" />
            <text x={LEFT - 5} y={y(level) + 4} textAnchor="end" className="num" fontSize={11.5} fill="var(--faint)">
              {minus(String(level))}
            </text>
          </g>
        ))}
        {stroke.layers.map((layer, number) => {
          const from = x(layer.low) - span / 254;
          const to = x(layer.high) + span / 254;
          const colour = layerColour(number, stroke.layers.length);
          return (
            <g key={number}>
              <rect x={from} y={TOP} width={to - from} height={HEIGHT} fill={colour} opacity={0.3} />
              <rect x={from} y={TOP + HEIGHT + 1} width={to - from} height={8} rx={2} fill={colour} />
              {layer.level_db > -119 && (
                <line
                  x1={from}
                  x2={to}
                  y1={y(layer.level_db)}
                  y2={y(layer.level_db)}
                  stroke="var(--ink)"
                  strokeWidth={1.3}
                />
              )}
            </g>
          );
        })}
        {gaps.map((gap) => (
          <g key={gap.low}>
            <rect
              x={x(gap.low) - span / 254}
              y={TOP}
              width={((gap.high - gap.low + 1) * span) / 127}
              height={HEIGHT + 9}
              fill={gap.overlap ? 'var(--plum)' : 'var(--amber-wash)'}
              fillOpacity={gap.overlap ? 0.22 : 1}
              stroke={gap.overlap ? 'var(--plum)' : 'var(--amber-line)'}
              strokeDasharray="3 2"
              data-testid={gap.overlap ? 'overlap' : 'gap'}
            >
              <title>{gap.overlap ? 'Two layers play here' : 'Nothing plays here'}</title>
            </rect>
          </g>
        ))}
        {stroke.layers.map((layer, number) =>
          layer.takes.map((id, place) => {
            const take = byId.get(id);
            if (!take) return null;
            const at = layer.low + ((layer.high - layer.low) * (place + 0.5)) / layer.takes.length;
            const far = Math.abs(take.level_db - layer.level_db) > 3;
            const sounded = hit?.takeId === id;
            return (
              <circle
                key={id}
                cx={x(at)}
                cy={y(Math.max(bottom, take.level_db))}
                r={sounded ? 6 : 4.3}
                fill={far ? 'var(--amber-line)' : layerColour(Math.max(number, 1), stroke.layers.length)}
                fillOpacity={take.enabled ? 1 : 0.2}
                stroke={sounded ? 'var(--plum)' : 'var(--ink)'}
                strokeWidth={sounded ? 2.6 : 1}
              >
                <title>{`Take ${take.label}: ${minus(take.level_db.toFixed(1))} dB`}</title>
              </circle>
            );
          }),
        )}
        {hit && (
          <line
            x1={x(hit.velocity)}
            x2={x(hit.velocity)}
            y1={TOP}
            y2={TOP + HEIGHT + 9}
            stroke="var(--plum)"
            strokeWidth={1.3}
            data-testid="dynamics-hit"
          />
        )}
        {stroke.layers.slice(0, -1).map((_, number) => (
          <Handle
            key={number}
            stroke={stroke}
            layer={number}
            linked={linked}
            x={x}
            velocityAt={(place) => Math.round(((place - LEFT) / span) * 127)}
          />
        ))}
        {[1, 32, 64, 96, 127].map((velocity) => (
          <text
            key={velocity}
            x={x(velocity)}
            y={TOP + HEIGHT + 25}
            textAnchor="middle"
            className="num"
            fontSize={11.5}
            fill="var(--faint)"
          >
            {velocity}
          </text>
        ))}
      </svg>
    </div>
  );
}

function gapsOf(stroke: Articulation): { low: number; high: number; overlap: boolean }[] {
  const found: { low: number; high: number; overlap: boolean }[] = [];
  let begun: { low: number; overlap: boolean } | null = null;
  for (let v = 1; v <= 128; v += 1) {
    const playing = v <= 127 ? stroke.layers.filter((l) => l.low <= v && v <= l.high).length : 1;
    if (begun && (playing === 1 || playing > 1 !== begun.overlap)) {
      found.push({ ...begun, high: v - 1 });
      begun = null;
    }
    if (playing !== 1 && !begun) begun = { low: v, overlap: playing > 1 };
  }
  return found;
}

interface HandleProps {
  stroke: Articulation;
  layer: number;
  linked: boolean;
  x: (velocity: number) => number;
  velocityAt: (place: number) => number;
}

function Handle({ stroke, layer, linked, x, velocityAt }: HandleProps) {
  const edit = useKit((s) => s.edit);
  const gesture = useRef('');
  const sent = useRef(0);
  const high = stroke.layers[layer]?.high ?? 0;
  const low = stroke.layers[layer]?.low ?? 1;
  const most = linked ? (stroke.layers[layer + 1]?.high ?? 127) - 1 : 127;
  const place = x(high) + (x(2) - x(1)) / 2;
  const move = (velocity: number) => {
    const to = Math.max(low, Math.min(most, velocity));
    if (to === sent.current) return;
    sent.current = to;
    void edit({ kind: 'move_boundary', articulation: stroke.id, layer, velocity: to, linked }, gesture.current);
  };
  const drag = (event: PointerEvent<SVGGElement>) => {
    const box = event.currentTarget.ownerSVGElement?.getBoundingClientRect();
    if (box) move(velocityAt(event.clientX - box.left));
  };
  const key = (event: KeyboardEvent) => {
    const by = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1, PageDown: -8, PageUp: 8 }[event.key];
    if (!by) return;
    event.preventDefault();
    gesture.current = newGesture('boundary');
    sent.current = 0;
    move(high + by);
  };
  return (
    <g
      role="slider"
      tabIndex={0}
      aria-label={`Boundary between layers ${layer + 1} and ${layer + 2}`}
      aria-valuemin={low}
      aria-valuemax={most}
      aria-valuenow={high}
      className="cursor-ew-resize focus-visible:outline-none [&:focus-visible>rect:last-child]:fill-plum"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        gesture.current = newGesture('boundary');
        sent.current = high;
      }}
      onPointerMove={(event) => event.currentTarget.hasPointerCapture(event.pointerId) && drag(event)}
      onKeyDown={key}
    >
      <rect x={place - 8} y={TOP} width={16} height={HEIGHT + 10} fill="transparent" />
      <line x1={place} x2={place} y1={TOP} y2={TOP + HEIGHT} stroke="var(--ink)" strokeOpacity={0.25} />
      <rect x={place - 2.5} y={TOP + HEIGHT / 2 - 14} width={5} height={28} rx={2.5} fill="var(--ink)" />
    </g>
  );
}
