/**
 * A drumhead seen from above. Rings are velocity layers, soft at the rim; sectors are a layer's takes. It plays when
 * pressed, harder towards the centre, and marks what just sounded.
 */

import { type KeyboardEvent, memo, type PointerEvent, useState } from 'react';
import type { Articulation } from '../api/calls';
import { layerColour } from './colours';

const CENTRE = 0.06;

const radiusAt = (velocity: number, size: number) => size * (1 - ((velocity - 1) / 127) * (1 - CENTRE));

const velocityAt = (radius: number, size: number) =>
  Math.max(1, Math.min(127, Math.round(1 + ((1 - radius / size) / (1 - CENTRE)) * 127)));

function sector(outer: number, inner: number, from: number, to: number): string {
  const at = (r: number, a: number) => `${(r * Math.cos(a)).toFixed(2)} ${(r * Math.sin(a)).toFixed(2)}`;
  if (to - from > 6.28) {
    const ring = (r: number) => `M${at(r, 0)}A${r} ${r} 0 1 1 ${at(r, Math.PI)}A${r} ${r} 0 1 1 ${at(r, 0)}Z`;
    return inner > 0.5 ? ring(outer) + ring(inner) : ring(outer);
  }
  const large = to - from > Math.PI ? 1 : 0;
  return `M${at(outer, from)}A${outer} ${outer} 0 ${large} 1 ${at(outer, to)}L${at(inner, to)}A${inner} ${inner} 0 ${large} 0 ${at(inner, from)}Z`;
}

export interface SkinHit {
  layer: number;
  takeId: string;
}

export interface SkinProps {
  articulation: Articulation;
  size: number;
  hit?: SkinHit | null;
  onStrike?: (velocity: number) => void;
  /** The velocity under the pointer, and null when it leaves. */
  onOver?: (velocity: number | null) => void;
  label?: string;
}

export function Skin({ articulation, size, hit, onStrike, onOver, label }: SkinProps) {
  const [pressed, setPressed] = useState<{ x: number; y: number } | null>(null);
  const radius = size / 2 - 5;
  const under = (event: PointerEvent<SVGSVGElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    const x = ((event.clientX - box.left) / box.width - 0.5) * size;
    const y = ((event.clientY - box.top) / box.height - 0.5) * size;
    const distance = Math.hypot(x, y);
    return distance > radius + 4 ? null : { x, y, velocity: velocityAt(Math.min(distance, radius), radius) };
  };
  const press = (event: PointerEvent<SVGSVGElement>) => {
    const place = under(event);
    if (!onStrike || event.button !== 0 || !place) return;
    setPressed({ x: place.x, y: place.y });
    onStrike(place.velocity);
  };
  const key = (event: KeyboardEvent) => {
    const strength = { 1: 16, 2: 32, 3: 48, 4: 64, 5: 80, 6: 96, 7: 112, 8: 127, Enter: 100 }[event.key];
    if (strength && onStrike && !event.altKey && !event.ctrlKey && !event.metaKey) {
      event.preventDefault();
      onStrike(strength);
    }
  };
  return (
    <svg
      width={size}
      height={size}
      viewBox={`${-size / 2} ${-size / 2} ${size} ${size}`}
      role={onStrike ? 'button' : 'img'}
      aria-label={label ?? `Skin of ${articulation.name}`}
      tabIndex={onStrike ? 0 : undefined}
      onPointerDown={press}
      onPointerMove={onOver && ((event) => onOver(under(event)?.velocity ?? null))}
      onPointerLeave={onOver && (() => onOver(null))}
      onKeyDown={key}
      className={onStrike ? 'cursor-pointer touch-none rounded-full select-none' : undefined}
      data-testid={onStrike ? 'skin' : undefined}
    >
      <circle r={radius + 4} fill="var(--sunk)" stroke="var(--ink)" strokeWidth={1.4} />
      <Rings articulation={articulation} radius={radius} gap={1.2} />
      <Faults articulation={articulation} radius={radius} />
      {hit && <Outline articulation={articulation} radius={radius} hit={hit} />}
      {pressed && onStrike && <circle cx={pressed.x} cy={pressed.y} r={3.6} fill="var(--plum)" stroke="var(--card)" />}
    </svg>
  );
}

const angles = (place: number, takes: number): [number, number] => {
  const turn = (2 * Math.PI) / takes;
  return [-Math.PI / 2 + place * turn, -Math.PI / 2 + (place + 1) * turn];
};

const Rings = memo(function Rings({
  articulation,
  radius,
  gap,
}: {
  articulation: Articulation;
  radius: number;
  gap: number;
}) {
  const enabled = new Set(articulation.takes.filter((t) => t.enabled).map((t) => t.id));
  return (
    <>
      {articulation.layers.map((layer, number) => {
        const outer = radiusAt(layer.low, radius);
        const inner = layer.high >= 127 ? 0 : radiusAt(layer.high + 1, radius);
        return layer.takes.map((take, place) => {
          const [from, to] = angles(place, layer.takes.length);
          return (
            <path
              key={take}
              d={sector(outer, inner, from, layer.takes.length === 1 ? from + 7 : to)}
              fillRule="evenodd"
              fill={enabled.has(take) ? layerColour(number, articulation.layers.length) : 'transparent'}
              stroke="var(--card)"
              strokeWidth={gap}
            />
          );
        });
      })}
    </>
  );
});

/** Faults in the ranges: a gap or overlap between rings, or a very thin ring. */
const Faults = memo(function Faults({ articulation, radius }: { articulation: Articulation; radius: number }) {
  const rings = [
    ...articulation.unanswered.map((silent) => ({ ...silent, colour: 'var(--amber-line)' })),
    ...articulation.doubled.map((twice) => ({ ...twice, colour: 'var(--plum)' })),
    ...articulation.layers
      .filter((layer) => layer.narrow)
      .map(({ low, high }) => ({ low, high, colour: 'var(--amber-line)' })),
  ];
  return rings.map(({ low, high, colour }) => {
    const outer = radiusAt(low, radius);
    const inner = high >= 127 ? 0 : radiusAt(high + 1, radius);
    return (
      <circle
        key={`${low} ${high} ${colour}`}
        r={(outer + inner) / 2}
        fill="none"
        stroke={colour}
        strokeWidth={Math.max(2, outer - inner)}
        strokeDasharray="4 3"
        pointerEvents="none"
        data-testid="skin-fault"
      />
    );
  });
});

function Outline({ articulation, radius, hit }: { articulation: Articulation; radius: number; hit: SkinHit }) {
  const layer = articulation.layers[hit.layer];
  const place = layer?.takes.indexOf(hit.takeId) ?? -1;
  if (!layer || place < 0) return null;
  const [from, to] = angles(place, layer.takes.length);
  const inner = layer.high >= 127 ? 0 : radiusAt(layer.high + 1, radius);
  const whole = layer.takes.length === 1;
  return (
    <path
      d={sector(radiusAt(layer.low, radius) - 1, Math.max(0, inner + 1), from, whole ? from + 7 : to)}
      fill="none"
      stroke="var(--plum)"
      strokeWidth={2.6}
      data-testid="skin-hit"
    />
  );
}

/** The drumhead as an icon: equal rings and sectors, enough to tell pieces apart. */
export function SkinIcon({ layers, takes, size = 30 }: { layers: number; takes: number; size?: number }) {
  const radius = size / 2 - 1;
  const rings = Math.max(1, layers);
  const sectors = Math.max(1, takes);
  return (
    <svg width={size} height={size} viewBox={`${-size / 2} ${-size / 2} ${size} ${size}`} aria-hidden="true">
      {Array.from({ length: rings }, (_, k) => (
        <circle key={k} r={radius - (radius / rings) * k} fill={layerColour(k, rings)} />
      ))}
      {sectors > 1 &&
        Array.from({ length: sectors }, (_, k) => {
          const angle = -Math.PI / 2 + (k * 2 * Math.PI) / sectors;
          return (
            <path
              key={k}
              d={`M0 0L${radius * Math.cos(angle)} ${radius * Math.sin(angle)}`}
              stroke="var(--card)"
              strokeWidth={0.8}
            />
          );
        })}
      <circle r={radius} fill="none" stroke="var(--edge)" strokeWidth={0.6} />
    </svg>
  );
}
