/** A boundary between two layers, to drag or nudge. */

import { type KeyboardEvent, type PointerEvent, useRef } from 'react';
import type { Articulation } from '../../api/calls';
import { useKit } from '../../app/kit/kitStore';
import { newGesture } from '../../ui/gestures';
import { nudged } from '../../ui/nudging';
import { TOP } from './Dots';

/** A boundary being dragged, shown before the studio has responded. */
export interface HeldBoundary {
  layer: number;
  velocity: number;
  linked: boolean;
}

interface HandleProps {
  articulation: Articulation;
  layer: number;
  /** The boundary's velocity, dragged or saved. */
  high: number;
  linked: boolean;
  tall: number;
  x: (velocity: number) => number;
  velocityAt: (place: number) => number;
  /** Reports the dragged boundary, and whether it is still held. */
  onHold: (held: HeldBoundary | null, still: boolean) => void;
  onRelease: () => void;
}

export function Handle({
  articulation,
  layer,
  high,
  linked: usually,
  tall,
  x,
  velocityAt,
  onHold,
  onRelease,
}: HandleProps) {
  const edit = useKit((s) => s.edit);
  const gesture = useRef('');
  const sent = useRef(0);
  const range = articulation.layers[layer]?.boundary;
  const place = x(high) + (x(2) - x(1)) / 2;
  const move = (velocity: number, linked: boolean, still: boolean) => {
    if (!range) return;
    const to = Math.max(range.least, Math.min(linked ? range.most : range.alone, velocity));
    if (to === sent.current) return;
    sent.current = to;
    onHold({ layer, velocity: to, linked }, still);
    void edit(
      { kind: 'move_boundary', articulation: articulation.id, layer, velocity: to, linked },
      gesture.current,
    ).then((refused) => refused && onHold(null, false));
  };
  const drag = (event: PointerEvent<SVGGElement>) => {
    const box = event.currentTarget.ownerSVGElement?.getBoundingClientRect();
    if (box) move(velocityAt(event.clientX - box.left), event.altKey ? !usually : usually, true);
  };
  const key = (event: KeyboardEvent) => {
    const linked = event.altKey ? !usually : usually;
    const most = (linked ? range?.most : range?.alone) ?? 127;
    const to = nudged(event.key, high, { least: range?.least ?? 1, most, page: 8 });
    if (to === null) return;
    event.preventDefault();
    event.stopPropagation();
    gesture.current = newGesture('boundary');
    sent.current = 0;
    move(to, linked, false);
  };
  return (
    <g
      role="slider"
      tabIndex={0}
      aria-label={`Boundary between layers ${layer + 1} and ${layer + 2}`}
      aria-valuemin={range?.least}
      aria-valuemax={usually ? range?.most : range?.alone}
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
