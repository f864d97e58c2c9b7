/** The dynamics chart: velocity across, measured loudness up, a dot a take, bands for layers, boundaries to drag. */
import { type KeyboardEvent, memo, type PointerEvent, useEffect, useRef, useState, useSyncExternalStore } from 'react';
import type { Articulation, Layer, Take } from '../../api/calls';
import { layerColour, minus } from '../../app/format';
import { gapsOf } from '../../app/gaps';
import { useHeld } from '../../app/held';
import { newGesture, useKit } from '../../app/kitStore';
import { useHitAt, useHitOf } from '../../app/strikes';
import { lineThrough } from '../../ui/lineThrough';
import { pressTake, useSelected } from './selection';

const LEFT = 34;
const TOP = 8;

const onResize = (changed: () => void) => {
  window.addEventListener('resize', changed);
  return () => window.removeEventListener('resize', changed);
};

/** The height of the chart: less where the window is low, so that the grid below keeps its rows. */
const useTall = () => useSyncExternalStore(onResize, () => (window.innerHeight < 760 ? 128 : 190));

/** A boundary on its way: shown where the hand is, before the studio has answered. */
interface Held {
  layer: number;
  velocity: number;
  linked: boolean;
}

const moved = (layers: Layer[], held: Held | null): Layer[] =>
  held
    ? layers.map((layer, number) =>
        number === held.layer
          ? { ...layer, high: held.velocity }
          : number === held.layer + 1 && held.linked
            ? { ...layer, low: held.velocity + 1 }
            : layer,
      )
    : layers;

interface DynamicsProps {
  stroke: Articulation;
  /** The stroke as an edit would make it. */
  ghost: Articulation | null;
  linked: boolean;
}

export function Dynamics({ stroke: kept, ghost, linked }: DynamicsProps) {
  const { held, hold, grip, letGo } = useHeld<Held | null>(kept);
  const tall = useTall();
  const stroke = held ? { ...kept, layers: moved(kept.layers, held) } : kept;
  const { takes: selected } = useSelected(kept);
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
  const levels = [...stroke.takes, ...(ghost?.takes ?? [])].map((take) => take.level_db);
  const top = Math.ceil((Math.max(...levels, -20) + 2) / 6) * 6;
  const bottom = Math.min(top - 24, Math.floor((Math.min(...levels, -20) - 2) / 6) * 6);
  const y = (level: number) => TOP + ((top - level) / (top - bottom)) * tall;
  const every = top - bottom > 40 ? 12 : 6;
  const lines = [];
  for (let level = Math.floor(top / every) * every; level >= bottom; level -= every) lines.push(level);
  const gaps = gapsOf(stroke);
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
        {stroke.layers.map((layer, number) => {
          const from = x(layer.low) - span / 254;
          const to = x(layer.high) + span / 254;
          const colour = layerColour(number, stroke.layers.length);
          return (
            <g key={number}>
              <rect x={from} y={TOP} width={to - from} height={tall} fill={colour} opacity={0.3} />
              <rect x={from} y={TOP + tall + 1} width={to - from} height={8} rx={2} fill={colour} />
              {layer.high - layer.low < 3 && (
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
        {stroke.layers.slice(0, -1).map((layer, number) => {
          const next = stroke.layers[number + 1];
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
            kept.plays_db.map((db) => (db !== null && db < bottom ? null : db)),
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
          <Dots stroke={stroke} x={x} y={y} bottom={bottom} selected={selected} />
        </g>
        {ghost && <Ghost stroke={ghost} x={x} y={y} bottom={bottom} tall={tall} />}
        <Hit stroke={kept.id} x={x} tall={tall} />
        {stroke.layers.slice(0, -1).map((_, number) => (
          <Handle
            key={number}
            stroke={stroke}
            layer={number}
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

interface DotsProps {
  stroke: Articulation;
  x: (velocity: number) => number;
  y: (level: number) => number;
  bottom: number;
  selected: string[];
}

/** Where the last strike of a stroke fell. */
function Hit({ stroke, x, tall }: { stroke: string; x: DotsProps['x']; tall: number }) {
  const hit = useHitOf(stroke);
  if (!hit) return null;
  return (
    <line
      x1={x(hit.velocity)}
      x2={x(hit.velocity)}
      y1={TOP}
      y2={TOP + tall + 9}
      stroke="var(--plum)"
      strokeWidth={1.3}
      data-testid="dynamics-hit"
    />
  );
}

const placeIn = (layer: Layer, place: number) =>
  layer.low + ((layer.high - layer.low) * (place + 0.5)) / layer.takes.length;

function Dots({ stroke, x, y, bottom, selected }: DotsProps) {
  const byId = new Map(stroke.takes.map((take) => [take.id, take]));
  return stroke.layers.map((layer, number) =>
    layer.takes.map((id, place) => {
      const take = byId.get(id);
      if (!take) return null;
      const far = Math.abs(take.level_db - layer.level_db + layer.gain_db) > 3;
      return (
        <Dot
          key={id}
          stroke={stroke}
          take={take}
          cx={x(placeIn(layer, place))}
          cy={y(Math.max(bottom, take.level_db + layer.gain_db))}
          colour={far ? 'var(--amber-line)' : layerColour(Math.max(number, 1), stroke.layers.length)}
          chosen={selected.includes(id)}
        />
      );
    }),
  );
}

interface DotProps {
  stroke: Articulation;
  take: Take;
  cx: number;
  cy: number;
  colour: string;
  chosen: boolean;
}

const Dot = memo(function Dot({ stroke, take, cx, cy, colour, chosen }: DotProps) {
  const player = useKit((s) => s.player);
  const sounded = useHitAt(stroke.id, take.id) !== null;
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: the grid below is the way by keyboard
    <circle
      cx={cx}
      cy={cy}
      r={sounded || chosen ? 6 : 4.3}
      fill={colour}
      fillOpacity={take.enabled ? 1 : 0.2}
      stroke={sounded ? 'var(--plum)' : 'var(--ink)'}
      strokeWidth={sounded || chosen ? 2.6 : 1}
      className="cursor-pointer"
      onClick={(event) => {
        pressTake(stroke, take.id, { join: event.ctrlKey || event.metaKey, range: event.shiftKey });
        player?.audition(stroke.id, take.id);
      }}
    >
      <title>{`Take ${take.label}: ${minus(take.level_db.toFixed(1))} dB`}</title>
    </circle>
  );
});

/** Where takes, layers and boundaries would be. */
type GhostProps = Omit<DotsProps, 'selected'> & { tall: number };

function Ghost({ stroke, x, y, bottom, tall }: GhostProps) {
  const byId = new Map(stroke.takes.map((take) => [take.id, take]));
  return (
    <g data-testid="ghost" stroke="var(--leaf)" fill="none">
      {stroke.layers.map((layer, number) => (
        <g key={number}>
          <line
            x1={x(layer.low - 0.5)}
            x2={x(layer.high + 0.5)}
            y1={y(layer.level_db)}
            y2={y(layer.level_db)}
            strokeWidth={2}
          />
          {number > 0 && (
            <line
              x1={x(layer.low - 0.5)}
              x2={x(layer.low - 0.5)}
              y1={TOP}
              y2={TOP + tall}
              strokeWidth={1.2}
              strokeDasharray="4 3"
            />
          )}
          {layer.takes.map((id, place) => {
            const take = byId.get(id);
            return (
              take?.enabled && (
                <circle
                  key={id}
                  cx={x(placeIn(layer, place))}
                  cy={y(Math.max(bottom, take.level_db + layer.gain_db))}
                  r={4.3}
                  strokeWidth={2}
                />
              )
            );
          })}
        </g>
      ))}
    </g>
  );
}

interface HandleProps {
  stroke: Articulation;
  layer: number;
  linked: boolean;
  tall: number;
  x: (velocity: number) => number;
  velocityAt: (place: number) => number;
  /** Tells where the boundary is held, and whether the hand is still on it. */
  onHold: (held: Held | null, still: boolean) => void;
  onRelease: () => void;
}

function Handle({ stroke, layer, linked: usually, tall, x, velocityAt, onHold, onRelease }: HandleProps) {
  const edit = useKit((s) => s.edit);
  const gesture = useRef('');
  const sent = useRef(0);
  const high = stroke.layers[layer]?.high ?? 0;
  const low = stroke.layers[layer]?.low ?? 1;
  const most = usually ? (stroke.layers[layer + 1]?.high ?? 127) - 1 : 127;
  const place = x(high) + (x(2) - x(1)) / 2;
  const move = (velocity: number, linked: boolean, still: boolean) => {
    const end = linked ? (stroke.layers[layer + 1]?.high ?? 127) - 1 : 127;
    const to = Math.max(low, Math.min(end, velocity));
    if (to === sent.current) return;
    sent.current = to;
    onHold({ layer, velocity: to, linked }, still);
    void edit({ kind: 'move_boundary', articulation: stroke.id, layer, velocity: to, linked }, gesture.current).then(
      (refused) => refused && onHold(null, false),
    );
  };
  const drag = (event: PointerEvent<SVGGElement>) => {
    const box = event.currentTarget.ownerSVGElement?.getBoundingClientRect();
    if (box) move(velocityAt(event.clientX - box.left), event.altKey ? !usually : usually, true);
  };
  const key = (event: KeyboardEvent) => {
    const by = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1, PageDown: -8, PageUp: 8 }[event.key];
    if (!by) return;
    event.preventDefault();
    event.stopPropagation();
    gesture.current = newGesture('boundary');
    sent.current = 0;
    move(high + by, event.altKey ? !usually : usually, false);
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
      onPointerUp={onRelease}
      onPointerCancel={onRelease}
      onKeyDown={key}
    >
      <title>Drag or nudge; hold Alt to move one side alone</title>
      <rect x={place - 8} y={TOP} width={16} height={tall + 10} fill="transparent" />
      <line x1={place} x2={place} y1={TOP} y2={TOP + tall} stroke="var(--ink)" strokeOpacity={0.25} />
      <rect x={place - 2.5} y={TOP + tall / 2 - 14} width={5} height={28} rx={2.5} fill="var(--ink)" />
    </g>
  );
}
