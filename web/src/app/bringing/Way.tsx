/** One of the ways to bring a piece in, as a choice. */
interface WayProps {
  chosen: boolean;
  says: string;
  aside: string;
  onChoose: () => void;
}

export function Way({ chosen, says, aside, onChoose }: WayProps) {
  return (
    <button
      type="button"
      role="radio"
      aria-checked={chosen}
      onClick={onChoose}
      className={`grid rounded-xl border px-3 py-2 text-left ${chosen ? 'border-ink ring-1 ring-ink' : 'border-line hover:border-edge'}`}
    >
      <span className="font-semibold">{says}</span>
      <span className="text-small text-soft">{aside}</span>
    </button>
  );
}
