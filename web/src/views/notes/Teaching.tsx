/**
 * Teaching notes by hitting pads: an articulation is named, its pad is hit, the note is saved. One articulation, or all
 * in turn. Messages are gathered here; the core decides which one was meant.
 */

import { useQuery } from '@tanstack/react-query';
import { useEffect, useLayoutEffect, useRef } from 'react';
import { useNavigate } from 'react-router';
import { get, post, type Taught } from '../../api/calls';
import { articulationIn, pieceIdOf, useKit } from '../../app/kit/kitStore';
import { useLookedAt, usePlace } from '../../app/kit/place';
import { rules } from '../../app/kit/rules';
import { useScope } from '../../app/kit/scope';
import { type Message, onMessage } from '../../app/playing/door';
import { Actions } from '../../ui/Actions';
import { makeWay } from '../../ui/floating';
import { useHolding } from './holding';
import { answerWanted, keep, mustAsk, useTeaching } from './teachingState';

/** Strikes from the screen or from a groove are not a pad being taught. */
const NOT_PADS = new Set(['pointer', 'groove']);

export function TeachButton() {
  const id = useKit((s) => s.kit?.id);
  const { articulation } = useLookedAt();
  const begin = useTeaching((s) => s.begin);
  const teaching = useTeaching((s) => s.lessons !== null);
  const end = useTeaching((s) => s.end);
  const start = async (from: string | null, row: boolean) => {
    try {
      const { lessons } = await get('/api/kits/{kit_id}/lessons', { kit_id: id as string });
      begin(lessons, Math.max(0, from ? lessons.findIndex((l) => l.articulation === from) : 0), row);
    } catch (error) {
      useKit.getState().say((error as Error).message);
    }
  };
  if (teaching) {
    return (
      <button type="button" className="btn" onClick={end}>
        Stop teaching
      </button>
    );
  }
  return (
    <Actions
      label="Teach by hitting"
      className="btn btn-go"
      side="bottom end"
      actions={[
        { name: 'All articulations, one after another', onChoose: () => void start(null, true) },
        ...(articulation
          ? [
              { name: `From ${articulation.name} on`, onChoose: () => void start(articulation.id, true) },
              { name: `Only ${articulation.name}`, onChoose: () => void start(articulation.id, false) },
            ]
          : []),
      ]}
    >
      Teach by hitting
    </Actions>
  );
}

export function Teaching() {
  const kit = useKit((s) => s.kit);
  const { lessons, at, row, taught, heard, trouble, resting, unasked, go, end } = useTeaching();
  const messages = useRef<Message[]>([]);
  const controllers = useRef(new Map<number, Message>());
  const deaf = useRef(0);
  const busy = useRef(false);
  const lesson = lessons?.[at];

  useEffect(() => {
    deaf.current = performance.now();
    let waiting: ReturnType<typeof setTimeout> | null = null;
    let missed: Message | null = null;
    const listen = async (struck: Message) => {
      const { input } = struck;
      waiting = null;
      if (busy.current) {
        missed ??= struck;
        return;
      }
      const state = useTeaching.getState();
      const asked = state.lessons?.[state.at];
      const id = useKit.getState().kit?.id;
      // Counted back from the strike, not from now: the page or the studio may have been slow.
      const since = Math.max(deaf.current, struck.at - rules().teaching.look_back_ms);
      const recent = messages.current.filter((m) => m.input === input && m.at >= since);
      if (!asked || !id || answerWanted() || !recent.some((m) => m.kind === 'note')) return;
      const pedal = [...controllers.current.values()].filter((m) => m.input === input && m.at < since);
      busy.current = true;
      try {
        const found = await post(
          '/api/kits/{kit_id}/teach',
          { kit_id: id as string },
          {
            articulation: asked.articulation,
            input,
            taught: state.taught,
            messages: [...pedal, ...recent].map((m) => ({
              time_ms: m.at,
              kind: m.kind,
              number: m.number,
              value: m.value,
            })),
          },
        );
        useTeaching.setState({ heard: found, trouble: null });
        if (found.taught) {
          deaf.current = performance.now() + rules().teaching.rest_ms;
          useTeaching.setState({ resting: true });
          setTimeout(() => useTeaching.setState({ resting: false }), rules().teaching.rest_ms);
          useHolding.getState().select(found.taught.note);
          if (!answerWanted()) await keep('take_over');
        }
      } catch (error) {
        useTeaching.setState({ trouble: (error as Error).message });
      }
      busy.current = false;
      // Strikes during a request about an earlier, softer strike count too.
      if (missed !== null) {
        const next = missed;
        missed = null;
        void listen(next);
      }
    };
    const stop = onMessage((message) => {
      if (NOT_PADS.has(message.input)) return;
      if (message.kind === 'controller') controllers.current.set(message.number, message);
      messages.current = [...messages.current.slice(-400), message];
      if (message.kind !== 'note' || message.at < deaf.current) return;
      if (waiting === null && !answerWanted()) {
        const ahead = Math.max(0, message.at - performance.now());
        waiting = setTimeout(() => void listen(message), ahead + rules().teaching.gather_ms);
      }
    });
    return () => {
      stop();
      if (waiting !== null) clearTimeout(waiting);
    };
  }, []);

  useEffect(() => {
    const pressed = (event: KeyboardEvent) => {
      if (event.key === 'Escape' && !event.defaultPrevented) useTeaching.getState().end();
    };
    window.addEventListener('keydown', pressed);
    return () => window.removeEventListener('keydown', pressed);
  }, []);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what was heard makes the lesson taller
  useLayoutEffect(makeWay, [lesson, heard]);
  useEffect(() => {
    if (lesson) usePlace.getState().lookAt({ articulation: lesson.articulation });
  }, [lesson]);

  const again = () => {
    deaf.current = performance.now();
    useTeaching.setState({ heard: null, trouble: null });
  };
  const next = (to: number) => {
    deaf.current = performance.now();
    go(to);
  };
  const nextPiece = () => {
    const piece = pieceIdOf(lesson?.articulation);
    const to = lessons?.findIndex((l, k) => k > at && pieceIdOf(l.articulation) !== piece) ?? -1;
    next(to < 0 ? (lessons?.length ?? 0) : to);
  };
  if (!lessons || !kit) return null;
  if (!lesson) return <Done taught={taught} onBack={() => next(lessons.length - 1)} onEnd={end} />;
  const note = heard?.taught?.note;
  return (
    <section className="grid gap-3" aria-label="Teaching">
      <div className="grid gap-1.5 rounded-2xl border border-zest bg-zest-wash p-3.5" data-seen>
        <h2 data-testid="lesson">Hit: {lesson.name}</h2>
        <p className="text-small text-soft">{lesson.say}</p>
        <p className="num" data-testid="heard" role="status">
          {heard ? heard.said : resting ? 'Taken.' : 'Waiting for the pad…'}
        </p>
        {heard?.ignored.map((strike) => (
          <p key={`${strike.note} ${strike.velocity} ${strike.why}`} className="text-tiny text-soft">
            not counted: <span className="num">{kit.head.note_names[strike.note]}</span> at{' '}
            <span className="num">{strike.velocity}</span>, {strike.why}
          </p>
        ))}
        {trouble && <p className="text-small text-zest-text">{trouble}</p>}
        {heard?.taught && note !== undefined && mustAsk(heard, row, unasked) && (
          <>
            {heard.clash.length > 0 ? (
              <p className="text-small">
                {kit.head.note_names[note]} was just taught to {heard.clash.join(' and ')}: the same pad again?
              </p>
            ) : (
              heard.plays.length > 0 && (
                <p className="text-small">
                  {kit.head.note_names[note]} plays {heard.plays.join(' and ')} now.
                </p>
              )
            )}
            <span className="flex flex-wrap gap-1.5">
              <button type="button" className="btn btn-go" onClick={() => void keep('take_over')}>
                {heard.plays.length ? 'Replace' : `Keep ${kit.head.note_names[note]}`}
              </button>
              {heard.plays.length > 0 && (
                <button type="button" className="btn" onClick={() => void keep('stack')}>
                  Stack both
                </button>
              )}
              {row && heard.plays.length > 0 && !heard.clash.length && (
                <button
                  type="button"
                  className="btn"
                  title="Replace what these notes play, now and for the rest of this round"
                  onClick={() => {
                    useTeaching.setState({ unasked: true });
                    void keep('take_over');
                  }}
                >
                  Replace without asking
                </button>
              )}
              <button type="button" className="btn" onClick={again}>
                Hit again
              </button>
            </span>
          </>
        )}
        <span className="flex flex-wrap gap-1.5">
          <button type="button" className="btn" disabled={at === 0} onClick={() => next(at - 1)}>
            Back
          </button>
          <button type="button" className="btn" onClick={() => next(at + 1)}>
            Skip
          </button>
          <button type="button" className="btn" onClick={nextPiece}>
            Skip the piece
          </button>
        </span>
      </div>
      <ol className="grid max-h-[318px] overflow-y-auto text-small" aria-label="Articulations to teach">
        {lessons.map((one, k) => {
          const got = taught.find((t) => t.articulation === one.articulation);
          return (
            <li key={one.articulation}>
              <button
                type="button"
                aria-current={k === at ? 'step' : undefined}
                className={`flex w-full min-h-6 items-center justify-between gap-2 rounded-md px-1.5 text-left ${
                  k === at ? 'bg-zest-wash font-semibold' : got ? '' : 'text-soft'
                }`}
                onClick={() => next(k)}
              >
                <span className="truncate">{one.name}</span>
                <span className="num">{got ? kit.head.note_names[got.note] : ''}</span>
              </button>
            </li>
          );
        })}
      </ol>
    </section>
  );
}

function Done({ taught, onBack, onEnd }: { taught: Taught[]; onBack: () => void; onEnd: () => void }) {
  const id = useKit((s) => s.kit?.id);
  const version = useKit((s) => s.kit?.version);
  const { data } = useQuery({
    queryKey: ['lessons', id, version],
    queryFn: () => get('/api/kits/{kit_id}/lessons', { kit_id: id as string }),
  });
  const left = data?.without_note ?? [];
  const navigate = useNavigate();
  const onTo = (side: 'Pads' | 'Fit') => {
    onEnd();
    // For the curve, the articulation with the most layers shows more than the one taught last.
    const { pieces } = useKit.getState();
    const layers = (t: Taught) => articulationIn(pieces, t.articulation)?.articulation.layers.length ?? 0;
    const telling = [...taught].sort((a, b) => layers(b) - layers(a))[0];
    if (telling) usePlace.getState().lookAt({ articulation: telling.articulation });
    useScope.getState().choose('input');
    useScope.getState().show(side);
    navigate(`/kits/${id}/touch`);
  };
  return (
    <section className="grid gap-2 rounded-2xl border border-line bg-card p-3.5" aria-label="Teaching">
      <h2 data-testid="lesson">{taught.length} articulations taught</h2>
      {left.length > 0 ? (
        <p className="text-small text-soft">
          No note plays {left.join(', ')}: their notes went to articulations that were taught. Drag them to free notes,
          or leave them.
        </p>
      ) : (
        <p className="text-small text-soft">Every articulation has a note.</p>
      )}
      <p className="text-small text-soft">
        Each undo takes back one articulation. Keep the map under Maps to use it again.
      </p>
      <span className="flex gap-1.5">
        <button type="button" className="btn btn-go" onClick={onEnd}>
          Done
        </button>
        <button type="button" className="btn" onClick={onBack}>
          Back
        </button>
      </span>
      <p className="text-small text-soft">
        Next, under Touch:{' '}
        <button type="button" className="link" onClick={() => onTo('Pads')}>
          cross-talk and double triggers
        </button>
        , and{' '}
        <button type="button" className="link" onClick={() => onTo('Fit')}>
          a curve that fits how you play
        </button>
        .
      </p>
    </section>
  );
}
