/** A figure being typed where it is shown: Enter or leaving keeps it, Escape does not; what is no number is none. */
interface TypingProps {
  label: string;
  text: string;
  onText: (text: string | null) => void;
  onFigure: (figure: number) => void;
  className: string;
}

export function Typing({ label, text, onText, onFigure, className }: TypingProps) {
  const finish = () => {
    const figure = Number(text.replace('−', '-'));
    onText(null);
    if (text.trim() !== '' && Number.isFinite(figure)) onFigure(figure);
  };
  return (
    <input
      // biome-ignore lint/a11y/noAutofocus: typing on what is set moves the text here
      autoFocus
      aria-label={`${label}, typed`}
      className={`num rounded border border-edge bg-card px-1 text-right text-ink ${className}`}
      value={text}
      onChange={(event) => onText(event.target.value)}
      onBlur={finish}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === 'Enter') finish();
        if (event.key === 'Escape') onText(null);
      }}
    />
  );
}

/** Whether a key begins a figure. */
export const beginsFigure = (key: string) => /^[0-9.−-]$/.test(key);
