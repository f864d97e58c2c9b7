/** A button that asks for a name in its place when it is pressed; one left empty is none. It has the focus again then. */
import { useEffect, useRef, useState } from 'react';
import { Named } from './Named';

interface AsksNameProps {
  /** What the name is asked for as. */
  label: string;
  /** What the button says. */
  says: string;
  value?: string;
  onName: (name: string) => void;
  className?: string;
  title?: string;
  disabled?: boolean;
}

export function AsksName({
  label,
  says,
  value = '',
  onName,
  className = 'btn justify-self-start',
  title,
  disabled = false,
}: AsksNameProps) {
  const [asking, ask] = useState(false);
  const button = useRef<HTMLButtonElement>(null);
  const asked = useRef(false);
  useEffect(() => {
    // Unless the press that ended it went somewhere else.
    if (!asking && asked.current && document.activeElement === document.body) button.current?.focus();
    asked.current = asking;
  }, [asking]);
  if (asking) {
    return (
      <Named
        label={label}
        value={value}
        onName={(name) => {
          ask(false);
          if (name && name !== value) onName(name);
        }}
      />
    );
  }
  return (
    <button
      ref={button}
      type="button"
      className={className}
      title={title}
      disabled={disabled}
      onClick={() => ask(true)}
    >
      {says}
    </button>
  );
}
