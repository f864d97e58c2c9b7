/** What stands around every step: the header with the steps, the step itself, and the strike bar at the foot. */

import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Redo2, Undo2 } from 'lucide-react';
import { useEffect, useState } from 'react';
import { Link, NavLink, Outlet, useNavigate, useParams } from 'react-router';
import { get } from '../api/calls';
import { useKeeping } from '../ui/gestures';
import { Pick } from '../ui/Pick';
import { Brand, ThemeSwitch } from './Brand';
import { Closely } from './closely/Closely';
import { Dropping } from './Dropping';
import { FindingsButton } from './Findings';
import { useKeyboard } from './keyboard';
import { useKit } from './kitStore';
import { StrikeBar } from './StrikeBar';
import { STEPS } from './steps';

const FINDINGS_AFTER_MS = 150;

export function Shell() {
  const { kitId } = useParams();
  const open = useKit((s) => s.open);
  const opened = useKit((s) => s.kit !== null);
  const missing = useKit((s) => s.missing);
  useKeyboard();

  useEffect(() => {
    if (kitId) void open(kitId);
    return () => useKit.getState().close();
  }, [kitId, open]);

  if (missing) {
    return (
      <main className="grid h-full place-content-center gap-3 text-center">
        <h1>This kit could not be opened</h1>
        <p className="text-soft">{missing}</p>
        <p>
          <Link className="link" to="/">
            Back to all kits
          </Link>
        </p>
      </main>
    );
  }
  return (
    <div className="grid h-full grid-cols-[minmax(0,1fr)] grid-rows-[52px_minmax(0,1fr)_64px]">
      <Header />
      {opened ? <Outlet /> : <main className="grid place-content-center text-soft">Opening the kit…</main>}
      <StrikeBar />
      <Trouble />
      <WorthKnowing />
      <Dropping />
      {opened && <Closely />}
      <FindingsFollow />
    </div>
  );
}

/**
 * Findings belong to a version, and wait until it stands and no hand holds anything: looking a large kit through takes
 * longer than an edit.
 */
function FindingsFollow() {
  const version = useKit((s) => s.kit?.version);
  const keeping = useKeeping((s) => s.keeping);
  const held = usePressed();
  const queries = useQueryClient();
  useEffect(() => {
    if (version === undefined || keeping || held) return;
    const timer = setTimeout(() => void queries.invalidateQueries({ queryKey: ['findings'] }), FINDINGS_AFTER_MS);
    return () => clearTimeout(timer);
  }, [version, keeping, held, queries]);
  return null;
}

/** Whether a pointer is pressed somewhere. */
function usePressed(): boolean {
  const [pressed, setPressed] = useState(false);
  useEffect(() => {
    const press = () => setPressed(true);
    const release = () => setPressed(false);
    const releases = ['pointerup', 'pointercancel', 'dragend', 'blur'];
    window.addEventListener('pointerdown', press, true);
    for (const kind of releases) window.addEventListener(kind, release, true);
    return () => {
      window.removeEventListener('pointerdown', press, true);
      for (const kind of releases) window.removeEventListener(kind, release, true);
    };
  }, []);
  return pressed;
}

function Header() {
  return (
    <header className="flex items-center gap-4 border-b border-line bg-card px-4">
      <Brand />
      <WhichKit />
      <nav aria-label="Steps" className="mx-auto flex gap-0.5">
        {STEPS.map((step, place) => (
          <NavLink
            key={step.id}
            to={step.id}
            title={`Alt+${place + 1}`}
            className={({ isActive }) =>
              `rounded-lg px-2.5 py-1.5 font-medium whitespace-nowrap ${isActive ? 'bg-ink text-card' : 'text-soft hover:bg-sunk'}`
            }
          >
            {({ isActive }) => (
              <>
                <b className={`num mr-1.5 font-semibold max-[1180px]:hidden ${isActive ? 'opacity-80' : 'text-faint'}`}>
                  {place + 1}
                </b>
                {step.name}
              </>
            )}
          </NavLink>
        ))}
      </nav>
      <div className="flex items-center gap-1 text-small text-soft">
        <UndoRedo />
        <FindingsButton />
        <ThemeSwitch />
      </div>
    </header>
  );
}

function WhichKit() {
  const name = useKit((s) => s.kit?.head.name ?? '');
  const { kitId = '' } = useParams();
  const navigate = useNavigate();
  const { data: kits } = useQuery({ queryKey: ['kits'], queryFn: () => get('/api/kits', {}) });
  const options = (kits ?? []).map((k) => ({ value: k.id, name: k.name }));
  return (
    <Pick
      label="Kit"
      value={kitId}
      options={options.length ? options : [{ value: kitId, name }]}
      onChange={(id) => navigate(`/kits/${id}/layers`)}
      className="max-w-[190px] border-transparent bg-sunk text-[13.5px] font-semibold"
    />
  );
}

/** Undo, redo, and whether everything is kept. */
function UndoRedo() {
  const undone = useKit((s) => s.kit?.undo);
  const redone = useKit((s) => s.kit?.redo);
  const keeping = useKeeping((s) => s.keeping);
  const undo = useKit((s) => s.undo);
  const redo = useKit((s) => s.redo);
  return (
    <>
      <button
        type="button"
        className="rounded-md p-1.5 hover:bg-sunk disabled:opacity-40"
        disabled={!undone}
        onClick={() => void undo()}
        aria-label={undone ? `Undo: ${undone}` : 'Undo'}
        title={undone ? `Undo: ${undone} (Ctrl+Z)` : 'Nothing to undo'}
      >
        <Undo2 size={16} />
      </button>
      <button
        type="button"
        className="rounded-md p-1.5 hover:bg-sunk disabled:opacity-40"
        disabled={!redone}
        onClick={() => void redo()}
        aria-label={redone ? `Redo: ${redone}` : 'Redo'}
        title={redone ? `Redo: ${redone} (Ctrl+Shift+Z)` : 'Nothing to redo'}
      >
        <Redo2 size={16} />
      </button>
      <span className="mx-1 whitespace-nowrap max-[1240px]:hidden" data-testid="kept">
        {keeping ? 'Keeping…' : 'All kept'}
      </span>
    </>
  );
}

const MOST_NOTES = 6;

/** What is said once of a kit that comes from an older version or had to be mended. */
function WorthKnowing() {
  const notes = useKit((s) => s.kit?.notes);
  const told = useKit((s) => s.told);
  if (!notes?.length) return null;
  const more = notes.length - MOST_NOTES;
  return (
    <section
      role="status"
      aria-label="Worth knowing of this kit"
      className="fixed bottom-[76px] left-1/2 z-40 flex max-h-[60vh] w-[min(640px,92vw)] -translate-x-1/2 items-end gap-4 rounded-xl border border-edge bg-card px-4 py-3 shadow-lg"
    >
      <div className="grid max-h-[50vh] grow gap-1 overflow-y-auto">
        {notes.slice(0, MOST_NOTES).map((note) => (
          <p key={note}>{note}</p>
        ))}
        {more > 0 && <p className="text-soft">And {more} more like these, mended as well.</p>}
      </div>
      <button type="button" className="btn" onClick={() => void told()}>
        Understood
      </button>
    </section>
  );
}

function Trouble() {
  const trouble = useKit((s) => s.trouble);
  const say = useKit((s) => s.say);
  if (!trouble) return null;
  return (
    <div
      role="alert"
      className="fixed bottom-[76px] left-1/2 z-50 flex max-w-[640px] -translate-x-1/2 items-center gap-4 rounded-xl border border-amber-line bg-amber-wash px-4 py-2.5 text-ink shadow-lg"
    >
      <span>{trouble}</span>
      <button type="button" className="btn" onClick={() => say(null)}>
        Close
      </button>
    </div>
  );
}
