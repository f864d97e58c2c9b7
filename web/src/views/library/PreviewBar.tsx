/** At the foot of the library: the playing preview, its position, and stop. */
import { Square } from 'lucide-react';
import { useHearing } from './hearing';

const clock = (seconds: number) => `${Math.floor(seconds / 60)}:${String(Math.floor(seconds % 60)).padStart(2, '0')}`;

export function PreviewBar() {
  const { name, running, at, length, stop, trouble } = useHearing();
  return (
    <footer
      className="flex min-w-0 items-center gap-4 overflow-hidden bg-foot px-4 text-foot-ink"
      data-testid="preview-bar"
    >
      <span className="min-w-0 truncate font-semibold" role="status">
        {trouble ?? (running ? name : 'Press play on anything to hear it before you open it')}
      </span>
      {running && (
        <>
          <span className="num whitespace-nowrap text-foot-soft">
            preview {clock(at)} of {clock(length)}
          </span>
          <span className="h-1.5 w-[160px] shrink overflow-hidden rounded-full bg-foot-line" aria-hidden="true">
            <span
              className="meter block h-full origin-left"
              style={{ transform: `scaleX(${length ? Math.min(1, at / length) : 0})` }}
            />
          </span>
          <span className="num text-foot-soft max-[900px]:hidden">loudness-matched</span>
        </>
      )}
      <span className="grow" />
      <button
        type="button"
        disabled={!running}
        className="flex items-center gap-2 rounded-lg border border-foot-line px-2.5 py-1.5 text-small hover:bg-foot-line disabled:opacity-60"
        onClick={stop}
      >
        <Square size={11} fill="currentColor" aria-hidden="true" /> Stop sound
      </button>
    </footer>
  );
}
