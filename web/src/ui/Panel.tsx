/**
 * A button that opens a panel beside it, for what is looked at or set and not chosen from a list. The panel follows its
 * button in the order of Tab; Escape, a press elsewhere or moving on closes it, and Escape gives the focus back.
 */
import {
  type FocusEvent,
  type KeyboardEvent,
  type ReactNode,
  useEffect,
  useId,
  useLayoutEffect,
  useRef,
  useState,
} from 'react';

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

const GAP = 8;
const LEAST = 220;

/** What lists inside a panel open stands elsewhere in the page and belongs to it all the same. */
const elsewhere = (target: EventTarget | null) =>
  target instanceof Element && target.closest('#headlessui-portal-root') !== null;

export function Panel({ button, buttonClass = 'btn', title, label, className, children }: PanelProps) {
  const [open, setOpen] = useState(false);
  const id = useId();
  const root = useRef<HTMLSpanElement>(null);
  const opener = useRef<HTMLButtonElement>(null);
  const panel = useRef<HTMLDivElement>(null);
  const close = () => setOpen(false);
  useLayoutEffect(() => {
    if (!open) return;
    const place = () => {
      const [at, node] = [opener.current?.getBoundingClientRect(), panel.current];
      if (!at || !node) return;
      const below = window.innerHeight - at.bottom - 2 * GAP;
      const above = at.top - 2 * GAP;
      const up = below < LEAST && above > below;
      const { style } = node;
      style.maxHeight = `${Math.max(80, Math.min(up ? above : below, window.innerHeight * 0.72))}px`;
      style.maxWidth = `${window.innerWidth - 2 * GAP}px`;
      style.top = up ? 'auto' : `${at.bottom + GAP}px`;
      style.bottom = up ? `${window.innerHeight - at.top + GAP}px` : 'auto';
      style.left = `${Math.max(GAP, Math.min(at.right, window.innerWidth - GAP) - node.offsetWidth)}px`;
    };
    place();
    window.addEventListener('resize', place);
    window.addEventListener('scroll', place, true);
    return () => {
      window.removeEventListener('resize', place);
      window.removeEventListener('scroll', place, true);
    };
  }, [open]);
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
        ref={opener}
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
          ref={panel}
          id={id}
          role="group"
          aria-label={label}
          className={`fixed z-40 overflow-auto rounded-2xl border border-line bg-card text-ink shadow-xl ${className}`}
        >
          {children(close)}
        </div>
      )}
    </span>
  );
}
