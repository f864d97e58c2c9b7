/** The frame of every step: the header with the steps, the step itself, and the strike bar. */

import { useQueryClient } from '@tanstack/react-query';
import { Check, Redo2, Undo2 } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { Link, NavLink, Outlet, useLocation, useNavigate, useParams } from 'react-router';
import { useKeeping } from '../../ui/gestures';
import { Pick } from '../../ui/Pick';
import { BringPiece } from '../bringing/BringPiece';
import { FindingsButton } from '../findings/Findings';
import { useCarriedPieces } from '../importing/carrying';
import { Dropping } from '../importing/Dropping';
import { PlacedBySound } from '../importing/PlacedBySound';
import { useKit } from '../kit/kitStore';
import { useRecentKits } from '../kit/recentKits';
import { StrikeBar } from '../playing/StrikeBar';
import { useChosenLeaving } from '../playing/soundCard';
import { Waveforms } from '../waveforms/Waveforms';
import { Away } from './Away';
import { Brand, ThemeSwitch } from './Brand';
import { Fault } from './Fault';
import { HelpButton } from './Help';
import { isGoing, useJobs } from './Jobs';
import { useKeyboard } from './keyboard';
import { useDoneSteps } from './NextStep';
import { STEPS, useLookedAtSteps } from './steps';
import { ThisKit } from './ThisKit';

const FINDINGS_AFTER_MS = 150;

export function Shell() {
  const { kitId } = useParams();
  const open = useKit((s) => s.open);
  const opened = useKit((s) => s.kit !== null);
  const missing = useKit((s) => s.missing);
  const wanted = useKit((s) => s.wanted);
  const { pathname } = useLocation();
  useKeyboard();
  useChosenLeaving();
  useCarriedPieces();

  useEffect(() => {
    // A copy of the kit that was open is open already and keeps sounding.
    if (kitId && useKit.getState().kit?.id !== kitId) void open(kitId);
    return () => {
      const here = useKit.getState().kit?.id;
      if (!here || here === kitId) useKit.getState().close();
    };
  }, [kitId, open]);
  const navigate = useNavigate();
  const here = useKit((s) => s.kit?.id);
  useEffect(() => {
    const step = pathname.split('/')[3] ?? 'layers';
    if (here && kitId && here !== kitId && useKit.getState().copied)
      navigate(`/kits/${here}/${step}`, { replace: true });
  }, [here, kitId, pathname, navigate]);

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
    <div className="shell grid h-full grid-cols-[minmax(0,1fr)] grid-rows-[auto_minmax(0,1fr)_64px]">
      <button
        type="button"
        className="sr-only focus:not-sr-only focus:fixed focus:top-2 focus:left-2 focus:z-50 focus:rounded-lg focus:bg-card focus:px-3 focus:py-2 focus:shadow-lg"
        onClick={() => focusStep()}
      >
        Skip to the step
      </button>
      <StepSaid />
      <div>
        <Header />
        <Away />
        <Copied />
      </div>
      {opened ? (
        <Fault of={pathname}>
          <Outlet />
        </Fault>
      ) : (
        <main className="grid place-content-center text-soft">
          {wanted ? 'The kit is opened when the studio is back.' : 'Opening the kit…'}
        </main>
      )}
      <StrikeBar />
      <Trouble />
      <WorthKnowing />
      <Dropping />
      {opened && <Waveforms />}
      {opened && <BringPiece />}
      {opened && <PlacedBySound />}
      <FindingsFollow />
    </div>
  );
}

/**
 * Refreshes findings once a version is saved and no pointer is pressed, because checking a large kit takes longer than an
 * edit; and when a job has ended, because a line check or stems may have found something.
 */
function FindingsFollow() {
  const version = useKit((s) => s.kit?.version);
  const keeping = useKeeping((s) => s.keeping);
  const held = usePressed();
  const queries = useQueryClient();
  const ended = useJobs()
    .data?.filter((job) => !isGoing(job))
    .map((job) => job.id)
    .join();
  // biome-ignore lint/correctness/useExhaustiveDependencies: a job that has ended is a trigger
  useEffect(() => {
    if (version === undefined || keeping || held) return;
    const timer = setTimeout(() => void queries.invalidateQueries({ queryKey: ['findings'] }), FINDINGS_AFTER_MS);
    return () => clearTimeout(timer);
  }, [version, keeping, held, ended, queries]);
  return null;
}

/** Whether a pointer is pressed anywhere. */
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

const stepMain = () => document.querySelector<HTMLElement>('.panes > main') ?? document.querySelector('main');

/** The number of frames to wait for a view that is still being fetched. */
const MOST_LOOKS = 900;

function focusStep(looks = MOST_LOOKS) {
  const main = stepMain();
  const idle = document.activeElement === document.body || !document.activeElement;
  // If the focus moved elsewhere meanwhile, it stays there.
  if (main && (looks === MOST_LOOKS || idle)) {
    main.tabIndex = -1;
    main.focus();
  }
  if (!main?.childElementCount && looks > 0) requestAnimationFrame(() => focusStep(looks - 1));
}

/** Puts the step into the page's title, announces it, and moves the focus to it. */
function StepSaid() {
  const { pathname } = useLocation();
  const name = useKit((s) => s.kit?.head.name);
  const kit = useKit((s) => s.kit?.id);
  const here = STEPS.find((s) => pathname.endsWith(`/${s.id}`));
  const step = here?.name ?? '';
  useEffect(() => {
    document.title = [step, name, 'Zesty Skin'].filter(Boolean).join(' · ');
  }, [step, name]);
  useEffect(() => {
    // A groove played counts for Rehearsal, an export for Delivery.
    if (kit && here && here.id !== 'rehearsal' && here.id !== 'delivery')
      useLookedAtSteps.getState().look(kit, here.id);
  }, [kit, here]);
  const before = useRef(step);
  useEffect(() => {
    if (!step || before.current === step) return;
    before.current = step;
    // The view appears a moment after its URL.
    const frame = requestAnimationFrame(() => {
      if (document.activeElement === document.body || !document.activeElement) focusStep();
    });
    return () => cancelAnimationFrame(frame);
  }, [step]);
  return (
    <p className="sr-only" role="status">
      {step}
    </p>
  );
}

function Header() {
  const done = useDoneSteps();
  return (
    <header className="flex h-[52px] items-center gap-4 border-b border-line bg-card px-4">
      <Brand />
      <WhichKit />
      <ThisKit />
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
                {done.has(step.id) && (
                  <>
                    <Check
                      size={12}
                      strokeWidth={3}
                      className={`ml-1 inline-block align-[-1px] max-[1100px]:hidden ${isActive ? '' : 'text-leaf'}`}
                      aria-hidden="true"
                    />
                    <span className="sr-only">done</span>
                  </>
                )}
              </>
            )}
          </NavLink>
        ))}
      </nav>
      <div className="flex items-center gap-1 text-small text-soft">
        <UndoRedo />
        <FindingsButton />
        <HelpButton />
        <ThemeSwitch />
      </div>
    </header>
  );
}

function WhichKit() {
  const name = useKit((s) => s.kit?.head.name ?? '');
  const { kitId = '' } = useParams();
  const navigate = useNavigate();
  const kits = useRecentKits();
  // A new kit is not on the list yet, and one renamed here is listed under its old name.
  const others = (kits ?? []).filter((k) => k.id !== kitId).map((k) => ({ value: k.id, name: k.name }));
  const options = [{ value: kitId, name: name || (kits?.find((k) => k.id === kitId)?.name ?? '') }, ...others];
  return (
    <Pick
      label="Kit"
      value={kitId}
      options={options}
      onChange={(id) => navigate(`/kits/${id}/layers`)}
      className="max-w-[190px] border-transparent bg-sunk text-[13.5px] font-semibold"
    />
  );
}

/** Says, beside the kit's name, that it is a copy of a shipped kit. */
function Copied() {
  const copied = useKit((s) => s.copied);
  if (!copied) return null;
  return (
    <div
      role="status"
      data-testid="copied"
      className="flex items-center justify-center gap-4 bg-leaf-wash px-4 py-1.5 text-small"
    >
      {copied}
      <button type="button" className="link" onClick={() => useKit.setState({ copied: null })}>
        Got it
      </button>
    </div>
  );
}

/** Undo, redo, and whether everything is saved. */
function UndoRedo() {
  const undone = useKit((s) => s.kit?.undo);
  const redone = useKit((s) => s.kit?.redo);
  const keeping = useKeeping((s) => s.keeping);
  const away = useKeeping((s) => s.away);
  const waiting = useKeeping((s) => s.waiting);
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
        {away ? `${waiting || 'No'} waiting` : keeping ? 'Saving…' : 'Saved'}
      </span>
    </>
  );
}

const MOST_NOTES = 6;

/** Notices about a kit from an older version, or one that was repaired; shown once. */
function WorthKnowing() {
  const notes = useKit((s) => s.kit?.notes);
  const told = useKit((s) => s.told);
  if (!notes?.length) return null;
  const more = notes.length - MOST_NOTES;
  return (
    <section
      role="status"
      aria-label="About this kit"
      className="fixed bottom-[76px] left-1/2 z-40 flex max-h-[60vh] w-[min(640px,92vw)] -translate-x-1/2 items-end gap-4 rounded-xl border border-edge bg-card px-4 py-3 shadow-lg"
    >
      <div className="grid max-h-[50vh] grow gap-1 overflow-y-auto">
        {notes.slice(0, MOST_NOTES).map((note) => (
          <p key={note}>{note}</p>
        ))}
        {more > 0 && <p className="text-soft">And {more} more like these, fixed as well.</p>}
      </div>
      <button type="button" className="btn" onClick={() => void told()}>
        Got it
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
