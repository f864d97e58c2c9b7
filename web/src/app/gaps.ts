/** Where no layer answers, and where two do. */
import type { Layer } from '../api/calls';

export interface Gap {
  low: number;
  high: number;
  overlap: boolean;
}

export function gapsOf(stroke: { layers: Layer[] }): Gap[] {
  const found: Gap[] = [];
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
