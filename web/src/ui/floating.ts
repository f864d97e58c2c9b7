/** A panel over the page that can be moved by its handle, with the pointer or the arrow keys. */
import { type KeyboardEvent, type PointerEvent, type RefObject, useLayoutEffect, useState } from 'react';

export interface Spot {
  left: number;
  top: number;
}
export interface Size {
  width: number;
  height: number;
}
export type Box = Spot & Size;

const MARGIN = 12;
const STEP = 24;

/** The position moved back into the window, so that the handle can always be reached. */
export function within(spot: Spot, size: Size, room: Box): Spot {
  const clamp = (at: number, least: number, most: number) => Math.max(least, Math.min(at, Math.max(least, most)));
  return {
    left: clamp(spot.left, room.left, room.left + room.width - size.width),
    top: clamp(spot.top, room.top, room.top + room.height - size.height),
  };
}

const shared = (a: Box, b: Box): number =>
  Math.max(0, Math.min(a.left + a.width, b.left + b.width) - Math.max(a.left, b.left)) *
  Math.max(0, Math.min(a.top + a.height, b.top + b.height) - Math.max(a.top, b.top));

/** The position where a panel hides least of what must stay visible: where it is, or else a corner. */
export function clearOf(at: Spot, size: Size, room: Box, seen: Box | null): Spot {
  const here = within(at, size, room);
  if (!seen || !shared({ ...here, ...size }, seen)) return here;
  const right = room.left + room.width - size.width;
  const bottom = room.top + room.height - size.height;
  const spots = [here];
  for (const left of [room.left, right]) for (const top of [bottom, room.top]) spots.push({ left, top });
  const hides = (spot: Spot) => shared({ ...within(spot, size, room), ...size }, seen);
  return within(
    spots.reduce((best, spot) => (hides(spot) < hides(best) ? spot : best)),
    size,
    room,
  );
}

const ARROWS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

const looks = new Set<() => void>();

/** Called by elements marked `data-seen` when they appear or change: panels move out of their way. */
export const makeWay = () => {
  for (const look of looks) look();
};

/**
 * A panel's position and its handle's events. `over` are the heights of the bars above and below the page that must not
 * be covered.
 */
export function useFloating(panel: RefObject<HTMLElement | null>, over: { above: number; below: number }) {
  const [spot, setSpot] = useState<Spot | null>(null);
  const measured = () => {
    const box = panel.current?.getBoundingClientRect();
    const size = { width: box?.width ?? 0, height: box?.height ?? 0 };
    const room = {
      left: MARGIN,
      top: over.above + MARGIN,
      width: window.innerWidth - 2 * MARGIN,
      height: window.innerHeight - over.above - over.below - 2 * MARGIN,
    };
    return { at: { left: box?.left ?? 0, top: box?.top ?? 0 }, size, room };
  };
  const moved = (to: Spot) => {
    const { size, room } = measured();
    setSpot(within(to, size, room));
  };
  // biome-ignore lint/correctness/useExhaustiveDependencies: sizes are measured again each time
  useLayoutEffect(() => {
    const look = () => {
      const { at, size, room } = measured();
      const shown = document.querySelector('[data-seen]')?.getBoundingClientRect();
      const next = clearOf(at, size, room, shown ?? null);
      if (next.left !== at.left || next.top !== at.top) setSpot(next);
    };
    look();
    looks.add(look);
    window.addEventListener('resize', look);
    return () => {
      looks.delete(look);
      window.removeEventListener('resize', look);
    };
  }, []);
  const onPointerDown = (event: PointerEvent<HTMLElement>) => {
    event.preventDefault();
    const handle = event.currentTarget;
    handle.setPointerCapture(event.pointerId);
    handle.focus();
    const { at } = measured();
    const grip = { left: event.clientX - at.left, top: event.clientY - at.top };
    const move = (now: globalThis.PointerEvent) =>
      moved({ left: now.clientX - grip.left, top: now.clientY - grip.top });
    const drop = () => {
      handle.removeEventListener('pointermove', move);
      handle.removeEventListener('pointerup', drop);
      handle.removeEventListener('pointercancel', drop);
    };
    handle.addEventListener('pointermove', move);
    handle.addEventListener('pointerup', drop);
    handle.addEventListener('pointercancel', drop);
  };
  const onKeyDown = (event: KeyboardEvent<HTMLElement>) => {
    const step = ARROWS[event.key];
    if (!step) return;
    event.preventDefault();
    event.stopPropagation();
    const { at } = measured();
    moved({ left: at.left + step[0] * STEP, top: at.top + step[1] * STEP });
  };
  const style = spot ? { left: spot.left, top: spot.top, bottom: 'auto' } : undefined;
  return { style, handle: { onPointerDown, onKeyDown } };
}
