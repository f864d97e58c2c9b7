/** A number being typed: Enter or leaving saves it, Escape does not; anything that is not a number is ignored. */
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
      // biome-ignore lint/a11y/noAutofocus: typing on the control starts the edit
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

/** Whether a key can begin a number. */
export const beginsFigure = (key: string) => /^[0-9.−-]$/.test(key);
