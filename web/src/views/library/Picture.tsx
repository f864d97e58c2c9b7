/** The outline of a preview, filled up to the playing position; a press seeks. */
import type { PreviewItem } from '../../api/calls';
import { isHeard, useHearing } from './hearing';

const WIDTH = 268;
const HEIGHT = 44;

export function Picture({ item, outline }: { item: PreviewItem; outline: number[] }) {
  const mine = useHearing((s) => isHeard(s, item));
  const share = useHearing((s) => (mine && s.length ? s.at / s.length : 0));
  const seek = useHearing((s) => s.seek);
  const step = WIDTH / Math.max(1, outline.length);
  const loudest = Math.max(0.02, ...outline);
  const bars = (from: number, to: number) =>
    outline
      .slice(from, to)
      .map((peak, k) => {
        const half = Math.max(0.5, ((peak / loudest) ** 0.7 * HEIGHT) / 2);
        return `M${((from + k + 0.5) * step).toFixed(1)} ${(HEIGHT / 2 - half).toFixed(1)}v${(half * 2).toFixed(1)}`;
      })
      .join('');
  const heard = Math.round(share * outline.length);
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: a shortcut for the pointer; the button beside it plays
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      className={`w-full max-w-[440px] ${mine ? 'cursor-pointer' : ''}`}
      role="img"
      aria-label="Its preview, drawn"
      onClick={(event) => {
        const box = event.currentTarget.getBoundingClientRect();
        if (mine) seek((event.clientX - box.left) / box.width);
      }}
    >
      <path d={bars(0, heard)} stroke="var(--v5)" strokeWidth={step * 0.62} />
      <path d={bars(heard, outline.length)} stroke={mine ? 'var(--line)' : 'var(--v3)'} strokeWidth={step * 0.62} />
    </svg>
  );
}
