/** A mark that something exceeded full scale; it stays until it is pressed. */
import { useClipped } from './meters';

export function Clips({ name, of }: { name: string; of: string }) {
  const clipped = useClipped((s) => s.names.has(name));
  const seen = useClipped((s) => s.seen);
  if (!clipped) return null;
  return (
    <button
      type="button"
      className="tag border-amber-line bg-amber-wash font-bold text-amber"
      title={`${of} clipped; press to clear`}
      onClick={() => seen(name)}
    >
      <span className="sr-only">{of} clipped: clear </span>
      <span aria-hidden="true">!</span>
    </button>
  );
}
