/** A name being edited: Enter saves it, Escape or an empty name does not. */
import { useRef, useState } from 'react';

export function Named({
  label,
  value,
  onName,
  className = '',
}: {
  label: string;
  value: string;
  onName: (name: string) => void;
  className?: string;
}) {
  const [text, setText] = useState(value);
  const done = useRef(false);
  const finish = (name: string) => {
    if (done.current) return;
    done.current = true;
    onName(name.trim());
  };
  return (
    <input
      // biome-ignore lint/a11y/noAutofocus: editing began with a press
      autoFocus
      aria-label={label}
      placeholder={label}
      maxLength={120}
      className={`w-[150px] rounded-lg border border-edge bg-card px-2 py-1 text-ink ${className}`}
      value={text}
      onFocus={(event) => event.target.select()}
      onChange={(event) => setText(event.target.value)}
      onBlur={() => finish(text)}
      onKeyDown={(event) => {
        event.stopPropagation();
        // The key must not also press what gets the focus next.
        if (event.key === 'Enter') event.preventDefault();
        if (event.key === 'Enter') finish(text);
        if (event.key === 'Escape') finish('');
      }}
    />
  );
}
