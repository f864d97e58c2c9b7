/**
 * The dynamics chart: velocity across, measured loudness up, one dot per take, bands for layers, boundaries to drag.
 */

import { useEffect, useRef, useState, useSyncExternalStore } from 'react';
import type { Articulation } from '../../api/calls';
import { minus } from '../../app/kit/format';
import { layerColour } from '../../ui/colours';
import { useHeld } from '../../ui/held';

import { lineThrough } from '../../ui/lineThrough';
import { Handle, type HeldBoundary } from './Boundary';
import { Dots, Ghost, Hit, TOP } from './Dots';
import { useSelected } from './selection';

const LEFT = 34;

const onResize = (changed: () => void) => {
  window.addEventListener('resize', changed);
  return () => window.removeEventListener('resize', changed);
};

/** The chart's height: smaller in a low window, so that the grid below keeps its rows. */
const useTall = () => useSyncExternalStore(onResize, () => (window.innerHeight < 760 ? 128 : 190));

interface DynamicsProps {
  articulation: Articulation;
  /** The articulation as an edit would leave it. */
  ghost: Articulation | null;
  linked: boolean;
}

export function Dynamics({ articulation, ghost, linked }: DynamicsProps) {
  const { held, hold, grip, letGo } = useHeld<HeldBoundary | null>(articulation);
  const tall = useTall();
  const { takes: selected } = useSelected(articulation);
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
  const levels = [...articulation.takes, ...(ghost?.takes ?? [])].map((take) => take.level_db);
  const top = Math.ceil((Math.max(...levels, -20) + 2) / 6) * 6;
  const bottom = Math.min(top - 24, Math.floor((Math.min(...levels, -20) - 2) / 6) * 6);
  const y = (level: number) => TOP + ((top - level) / (top - bottom)) * tall;
  const every = top - bottom > 40 ? 12 : 6;
  const lines = [];
  for (let level = Math.floor(top / every) * every; level >= bottom; level -= every) lines.push(level);
  const gaps = [
    ...articulation.unanswered.map((stretch) => ({ ...stretch, overlap: false })),
    ...articulation.doubled.map((stretch) => ({ ...stretch, overlap: true })),
  ];
  return (
    <div ref={box} className="mt-1 grow">
      <svg
        width={width}
        height={TOP + tall + 34}
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
        {articulation.layers.map((layer, number) => {
          const from = x(layer.low) - span / 254;
          const to = x(layer.high) + span / 254;
          const colour = layerColour(number, articulation.layers.length);
          return (
            <g key={number}>
              <rect x={from} y={TOP} width={to - from} height={tall} fill={colour} opacity={0.3} />
              <rect x={from} y={TOP + tall + 1} width={to - from} height={8} rx={2} fill={colour} />
              {layer.narrow && (
                <rect
                  x={from}
                  y={TOP}
                  width={to - from}
                  height={tall}
                  fill="none"
                  stroke="var(--amber-line)"
                  strokeWidth={1.5}
                  data-testid="narrow"
                >
                  <title>{`Layer ${number + 1} is narrow: ${layer.high - layer.low + 1} velocities`}</title>
                </rect>
              )}
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
              height={tall + 9}
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
        {articulation.layers.slice(0, -1).map((layer, number) => {
          const next = articulation.layers[number + 1];
          if (!layer.blend || next?.low !== layer.high + 1) return null;
          const from = x(next.reach_low - 0.5);
          const to = x(layer.reach_high + 0.5);
          return (
            <path
              key={number}
              d={`M${from} ${TOP + tall}L${to} ${TOP}M${from} ${TOP}L${to} ${TOP + tall}`}
              stroke="var(--leaf)"
              strokeWidth={1.4}
              data-testid="blend"
            >
              <title>{`Blends over ${layer.blend} velocities`}</title>
            </path>
          );
        })}
        <path
          d={lineThrough(
            articulation.plays_db.map((db) => (db !== null && db < bottom ? null : db)),
            (place) => x(place + 1),
            y,
          )}
          fill="none"
          stroke="var(--plays)"
          strokeWidth={1.8}
          strokeLinejoin="round"
          opacity={ghost ? 0.3 : 0.9}
          data-testid="what-plays"
        >
          <title>How loud it plays, from soft to hard</title>
        </path>
        <g opacity={ghost ? 0.45 : 1}>
          <Dots articulation={articulation} x={x} y={y} bottom={bottom} selected={selected} />
        </g>
        {ghost && <Ghost articulation={ghost} x={x} y={y} bottom={bottom} tall={tall} />}
        <Hit articulation={articulation.id} x={x} tall={tall} />
        {articulation.layers.slice(0, -1).map((_, number) => (
          <Handle
            key={number}
            articulation={articulation}
            layer={number}
            high={held?.layer === number ? held.velocity : (articulation.layers[number]?.high ?? 0)}
            linked={linked}
            tall={tall}
            x={x}
            velocityAt={(place) => Math.round(((place - LEFT) / span) * 127)}
            onHold={(now, still) => {
              if (still) grip();
              hold(now);
            }}
            onRelease={letGo}
          />
        ))}
        {[1, 32, 64, 96, 127].map((velocity) => (
          <text
            key={velocity}
            x={x(velocity)}
            y={TOP + tall + 25}
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
