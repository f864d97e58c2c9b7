/** Positions of frequencies and decibels on the EQ chart. */
import { limitsOf } from '../../../app/kit/rules';
import { byRatio } from '../../../ui/byRatio';

export const HEIGHT = 150;
export const [LEFT, RIGHT, TOP, BOTTOM] = [26, 6, 6, 16];
/** The number of points of a curve. */
export const POINTS = 220;

export const clamp = (value: number, least: number, most: number) => Math.max(least, Math.min(most, value));

export function scaleOf(width: number) {
  const { least, most } = limitsOf('eq_band.hz');
  const mostDb = limitsOf('eq_band.gain_db').most;
  const place = byRatio(least, most);
  const inner = { width: width - LEFT - RIGHT, height: HEIGHT - TOP - BOTTOM };
  return {
    width,
    bottom: HEIGHT - BOTTOM,
    x: (hz: number) => LEFT + place.to(hz) * inner.width,
    y: (db: number) => TOP + (0.5 - clamp(db, -mostDb, mostDb) / (2 * mostDb)) * inner.height,
    /** The frequency of the curve's k-th point. */
    hzAt: (k: number) => place.from(k / POINTS),
    /** The frequency and gain at a position of the chart. */
    at: (left: number, top: number) => ({
      hz: Number(place.from(clamp((left - LEFT) / inner.width, 0, 1)).toPrecision(4)),
      db: Number(clamp((0.5 - (top - TOP) / inner.height) * 2 * mostDb, -mostDb, mostDb).toFixed(1)),
    }),
  };
}

export type Scale = ReturnType<typeof scaleOf>;
