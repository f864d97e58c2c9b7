/**
 * A button with a panel beside it, for content that is not a list of choices. The panel follows its button in Tab
 * order; Escape, a press elsewhere or moving on closes it, and Escape returns the focus to the button.
 */
import { autoUpdate, flip, offset, shift, size, useFloating } from '@floating-ui/react-dom';
import { type FocusEvent, type KeyboardEvent, type ReactNode, useEffect, useId, useRef, useState } from 'react';

interface PanelProps {
  /** The button's content. */
  button: ReactNode;
  buttonClass?: string;
  title?: string;
  /** The panel's accessible name. */
  label: string;
  className: string;
  children: (close: () => void) => ReactNode;
}

/** The distance between a panel, its button and the window's edge, in pixels. */
const GAP = 8;
const LEAST = 80;
/** The largest share of the window's height. */
const MOST = 0.72;

/** Lists opened from inside the panel are elsewhere in the document but belong to it. */
const elsewhere = (target: EventTarget | null) =>
  target instanceof Element && target.closest('#headlessui-portal-root') !== null;

export function Panel({ button, buttonClass = 'btn', title, label, className, children }: PanelProps) {
  const [open, setOpen] = useState(false);
  const id = useId();
  const root = useRef<HTMLSpanElement>(null);
  const opener = useRef<HTMLButtonElement>(null);
  const close = () => setOpen(false);
  /** For a choice made in the panel: it closes, and the keyboard goes back to the button. */
  const done = () => {
    close();
    opener.current?.focus();
  };
  const { refs, floatingStyles } = useFloating({
    open,
    strategy: 'fixed',
    placement: 'bottom-end',
    whileElementsMounted: autoUpdate,
    middleware: [
      offset(GAP),
      flip({ padding: GAP, fallbackPlacements: ['top-end'] }),
      shift({ padding: GAP }),
      size({
        padding: GAP,
        apply({ availableHeight, elements }) {
          const { style } = elements.floating;
          style.maxHeight = `${Math.max(LEAST, Math.min(availableHeight, window.innerHeight * MOST))}px`;
          style.maxWidth = `${window.innerWidth - 2 * GAP}px`;
        },
      }),
    ],
  });
  useEffect(() => {
    if (!open) return;
    const press = (event: globalThis.PointerEvent) => {
      if (!root.current?.contains(event.target as Node) && !elsewhere(event.target)) setOpen(false);
    };
    window.addEventListener('pointerdown', press, true);
    return () => window.removeEventListener('pointerdown', press, true);
  }, [open]);
  const key = (event: KeyboardEvent) => {
    if (event.key !== 'Escape' || !open) return;
    event.stopPropagation();
    done();
  };
  const left = ({ relatedTarget: to }: FocusEvent) => {
    if (to && !root.current?.contains(to) && !elsewhere(to)) close();
  };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: handles keys and focus of the content
    <span ref={root} onKeyDown={key} onBlur={left}>
      <button
        ref={(node) => {
          opener.current = node;
          refs.setReference(node);
        }}
        type="button"
        className={buttonClass}
        title={title}
        aria-expanded={open}
        aria-controls={open ? id : undefined}
        onClick={() => setOpen(!open)}
      >
        {button}
      </button>
      {open && (
        <div
          ref={refs.setFloating}
          style={floatingStyles}
          id={id}
          role="group"
          aria-label={label}
          className={`z-40 overflow-auto rounded-2xl border border-line bg-card text-ink shadow-xl ${className}`}
        >
          {children(done)}
        </div>
      )}
    </span>
  );
}
