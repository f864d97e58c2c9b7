/** A button that turns into a name field when pressed; an empty name cancels. The button gets the focus back. */
import { useEffect, useRef, useState } from 'react';
import { Named } from './Named';

interface AsksNameProps {
  /** The label of the name field. */
  label: string;
  /** The text of the button. */
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
    // Unless the press that ended it moved the focus elsewhere.
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
