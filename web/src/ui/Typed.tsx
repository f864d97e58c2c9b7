/** A number shown as text that can be typed over when pressed: Enter saves, Escape cancels. */
import { useState } from 'react';

export function Typed({
  label,
  value,
  show = String,
  onType,
  className = '',
}: {
  label: string;
  value: number;
  show?: (value: number) => string;
  onType: (value: number) => void;
  className?: string;
}) {
  const [typing, setTyping] = useState<string | null>(null);
  const finish = () => {
    const number = Number((typing ?? '').replace('−', '-').replace(',', '.'));
    if (typing?.trim() && Number.isFinite(number) && number !== value) onType(number);
    setTyping(null);
  };
  if (typing === null) {
    return (
      <button
        type="button"
        className={`num -my-1 min-h-6 min-w-6 rounded px-0.5 hover:bg-sunk ${className}`}
        aria-label={`${label}: ${show(value)}. Type another`}
        title={`${label}: press to type`}
        onClick={() => setTyping(String(value))}
      >
        {show(value)}
      </button>
    );
  }
  return (
    <input
      // biome-ignore lint/a11y/noAutofocus: pressing the number starts the edit
      autoFocus
      aria-label={label}
      inputMode="decimal"
      className="num w-[42px] rounded border border-edge bg-card px-0.5 text-ink"
      value={typing}
      onFocus={(event) => event.target.select()}
      onChange={(event) => setTyping(event.target.value)}
      onBlur={finish}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === 'Enter') finish();
        if (event.key === 'Escape') setTyping(null);
      }}
    />
  );
}
