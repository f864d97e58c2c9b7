/**
 * A button that opens a panel beside it, for what is looked at or set and not chosen from a list. The panel follows its
 * button in the order of Tab; Escape, a press elsewhere or moving on closes it, and Escape gives the focus back.
 */
import { autoUpdate, flip, offset, shift, size, useFloating } from '@floating-ui/react-dom';
import { type FocusEvent, type KeyboardEvent, type ReactNode, useEffect, useId, useRef, useState } from 'react';

interface PanelProps {
  /** What stands on the button. */
  button: ReactNode;
  buttonClass?: string;
  title?: string;
  /** What the panel is called aloud. */
  label: string;
  className: string;
  children: (close: () => void) => ReactNode;
}

/** Between a panel and its button, and the window's edge, in pixels. */
const GAP = 8;
const LEAST = 80;
/** Of the window's height. */
const MOST = 0.72;

/** What lists inside a panel open stands elsewhere in the page and belongs to it all the same. */
const elsewhere = (target: EventTarget | null) =>
  target instanceof Element && target.closest('#headlessui-portal-root') !== null;

export function Panel({ button, buttonClass = 'btn', title, label, className, children }: PanelProps) {
  const [open, setOpen] = useState(false);
  const id = useId();
  const root = useRef<HTMLSpanElement>(null);
  const opener = useRef<HTMLButtonElement>(null);
  const close = () => setOpen(false);
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
    close();
    opener.current?.focus();
  };
  const left = ({ relatedTarget: to }: FocusEvent) => {
    if (to && !root.current?.contains(to) && !elsewhere(to)) close();
  };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: Escape and leaving are heard of what stands inside
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
          {children(close)}
        </div>
      )}
    </span>
  );
}
