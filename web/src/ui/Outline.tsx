/** A recording's waveform overview: 96 peaks, one letter each, as measured by the core. */
import { memo } from 'react';

export const Outline = memo(function Outline({
  outline,
  width,
  height,
  colour,
}: {
  outline: string;
  width: number;
  height: number;
  colour: string;
}) {
  const bars = Math.min(outline.length, Math.floor(width / 2.4));
  const peaks = Array.from({ length: bars }, (_, k) => {
    const from = Math.floor((k * outline.length) / bars);
    const to = Math.max(from + 1, Math.floor(((k + 1) * outline.length) / bars));
    let peak = 0;
    for (let i = from; i < to; i += 1) peak = Math.max(peak, ((outline.charCodeAt(i) - 48) / 63) ** 2);
    return peak;
  });
  const loudest = Math.max(0.02, ...peaks);
  const step = width / Math.max(1, bars);
  const d = peaks
    .map((peak, k) => {
      const half = Math.max(0.4, ((peak / loudest) ** 0.7 * height) / 2);
      return `M${(k * step + step / 2).toFixed(1)} ${(height / 2 - half).toFixed(1)}v${(half * 2).toFixed(1)}`;
    })
    .join('');
  return (
    <svg width={width} height={height} aria-hidden="true" className="block max-w-full">
      <path d={d} stroke={colour} strokeWidth={Math.max(1, step * 0.6)} />
    </svg>
  );
});
