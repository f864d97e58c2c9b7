/** Cross-talk and doubles of one input, learned from a stretch of playing and shown before they count. */

import { useEffect, useState } from 'react';
import { type Change, type CrossTalk, type KitState, type Learned, post } from '../../api/calls';
import { count } from '../../app/kit/format';
import { articulationIn, useKit } from '../../app/kit/kitStore';
import { within } from '../../app/kit/rules';
import { type Message, onMessage } from '../../app/playing/door';
import { useInputs } from '../../app/playing/inputs';
import { PlaysItself } from '../../app/playing/Pads';
import { Slider } from '../../ui/Slider';
import { Typed } from '../../ui/Typed';

interface Stretch {
  strikes: { time_ms: number; note: number; velocity: number }[];
  learned: Learned;
}

export function Misbehaving({ input }: { input: { id: string; name: string } }) {
  const kit = useKit((s) => s.kit) as KitState;
  const edit = useKit((s) => s.edit);
  const simulatedKit = useInputs((s) => s.kits.find((k) => k.id === input.id) ?? null);
  const [messages, setMessages] = useState<Message[] | null>(null);
  const [stretch, setStretch] = useState<Stretch | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const known = kit.head.inputs.find((each) => each.known.id === input.id)?.known;
  const cross_talk = known?.cross_talk ?? [];
  const recording = messages !== null;
  const set = (change: Change<'set_input'>, gesture?: string) =>
    edit({ kind: 'set_input', input: input.id, name: input.name, ...change }, gesture);

  useEffect(() => {
    if (!recording) return;
    return onMessage((message) => {
      if (message.input === input.id && message.kind === 'note') setMessages((all) => [...(all ?? []), message]);
    });
  }, [recording, input.id]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another input starts anew
  useEffect(() => {
    setMessages(null);
    setStretch(null);
    setTrouble(null);
  }, [input.id]);

  /** The rules learned from recorded playing, or what given rules would have removed. */
  const judge = async (strikes: Stretch['strikes'], rules: { cross_talk?: CrossTalk[]; doubles_ms?: number } = {}) => {
    try {
      setStretch({ strikes, learned: await post('/api/pads/learn', {}, { strikes, ...rules }) });
      setTrouble(null);
    } catch (error) {
      setTrouble((error as Error).message);
    }
  };
  const learn = () => {
    const strikes = (messages ?? []).map((m) => ({ time_ms: m.at, note: m.number, velocity: m.value }));
    setMessages(null);
    void judge(strikes);
  };
  return (
    <section className="grid grid-cols-[minmax(0,1fr)] gap-2.5" aria-label="Cross-talk and doubles">
      <h2 className="head">Cross-talk and doubles · {input.name}</h2>
      {cross_talk.length === 0 && !known?.doubles_ms && !stretch && (
        <p className="text-small text-soft">
          Cross-talk is a pad triggered by its neighbour; a double is one hit that triggers twice. Play everything for a
          minute, soft strikes too, and both are learned.
        </p>
      )}
      {cross_talk.map((talk, k) => (
        <Rule
          key={`${talk.after} ${talk.note}`}
          talk={talk}
          onChange={(next) =>
            void set({ cross_talk: cross_talk.flatMap((b, i) => (i === k ? (next ? [next] : []) : [b])) })
          }
        />
      ))}
      <div className="grid grid-cols-[84px_1fr] items-center gap-x-2 text-small">
        <span>Doubles</span>
        <Slider
          label="A second strike is a double within"
          value={known?.doubles_ms ?? 0}
          min={0}
          max={60}
          step={1}
          page={5}
          reset={0}
          show={(v) => (v ? `${v} ms` : 'none')}
          onChange={(doubles_ms, gesture) => void set({ doubles_ms }, gesture)}
        />
      </div>
      {recording && (
        <p className="text-small text-plum" role="status">
          Recording: <span className="num">{messages.length}</span> strikes
        </p>
      )}
      {trouble && (
        <p role="alert" className="text-small text-zest-text">
          {trouble}
        </p>
      )}
      {stretch && (
        <Shown
          stretch={stretch}
          onUse={() => {
            const { learned } = stretch;
            setStretch(null);
            void set({ cross_talk: learned.cross_talk, doubles_ms: learned.doubles_ms });
          }}
          onLeave={() => setStretch(null)}
          onRules={(rules) => void judge(stretch.strikes, rules)}
        />
      )}
      <span className="flex flex-wrap gap-1.5">
        {recording ? (
          <button type="button" className="btn btn-go" disabled={!messages.length} onClick={learn}>
            Finish
          </button>
        ) : (
          !stretch && (
            <button type="button" className="btn btn-go" onClick={() => setMessages([])}>
              Learn from playing
            </button>
          )
        )}
        {recording && simulatedKit && (
          <PlaysItself kit={simulatedKit} asked={{ what: 'beat' }} name="Let it play a beat" />
        )}
      </span>
    </section>
  );
}

/** What a note plays, in words a player knows. */
function usePadName() {
  const kit = useKit((s) => s.kit) as KitState;
  const pieces = useKit((s) => s.pieces);
  return (note: number) => {
    const placed = kit.head.placed.find((p) => p.note === note);
    const found = placed ? articulationIn(pieces, placed.articulation) : null;
    return found ? `${found.piece.name} (${kit.head.note_names[note]})` : `note ${note}`;
  };
}

function Rule({ talk, onChange }: { talk: CrossTalk; onChange: (talk: CrossTalk | null) => void }) {
  const name = usePadName();
  return (
    <div className="card px-3 py-2 text-small" data-testid="cross-talk-rule">
      <b className="block font-semibold">
        {name(talk.after)} triggers {name(talk.note)}
      </b>
      Strikes <Limits talk={talk} onChange={onChange} /> are ignored.{' '}
      <button type="button" className="link" onClick={() => onChange(null)}>
        Stop ignoring
      </button>
    </div>
  );
}

/** The velocity and time limits of cross-talk; both can be typed over. */
function Limits({ talk, onChange }: { talk: CrossTalk; onChange: (talk: CrossTalk) => void }) {
  return (
    <>
      up to{' '}
      <Typed
        label="Cross-talk up to"
        value={talk.up_to}
        onType={(up_to) => onChange({ ...talk, up_to: within('cross_talk.up_to', Math.round(up_to)) })}
      />{' '}
      within{' '}
      <Typed
        label="Cross-talk within milliseconds"
        value={talk.within_ms}
        onType={(ms) => onChange({ ...talk, within_ms: within('cross_talk.within_ms', ms) })}
      />{' '}
      ms
    </>
  );
}

interface ShownProps {
  stretch: Stretch;
  onUse: () => void;
  onLeave: () => void;
  onRules: (rules: { cross_talk: CrossTalk[]; doubles_ms: number }) => void;
}

function Shown({ stretch, onUse, onLeave, onRules }: ShownProps) {
  const name = usePadName();
  const { strikes, learned } = stretch;
  const away = new Set(learned.removed.map((gone) => gone.place));
  const doubles = learned.removed.filter((gone) => gone.why === 'double').length;
  const shaken = (talk: CrossTalk) =>
    learned.removed.filter((gone) => gone.after === talk.after && gone.note === talk.note).length;
  const ordered = [...strikes].sort((a, b) => a.time_ms - b.time_ms);
  const begin = ordered[0]?.time_ms ?? 0;
  const length = Math.max(1, (ordered[ordered.length - 1]?.time_ms ?? 1) - begin);
  return (
    <div className="grid gap-1.5 rounded-xl bg-amber-wash px-3 py-2.5 text-small" data-testid="learned">
      <b className="font-semibold">
        {learned.removed.length
          ? `${learned.removed.length} of ${count(learned.strikes, 'strike')} were unintended`
          : `${count(learned.strikes, 'strike')}, no problems`}
      </b>
      <svg
        viewBox="0 0 240 52"
        className="w-full"
        height={52}
        preserveAspectRatio="none"
        role="img"
        aria-label="Recorded strikes"
      >
        <title>Every recorded strike; those below the line would be ignored</title>
        <line x1={0} x2={240} y1={41} y2={41} stroke="var(--amber-line)" strokeWidth={0.6} />
        {ordered.map((strike, k) => {
          const x = ((strike.time_ms - begin) / length) * 237;
          const height = (strike.velocity / 127) * 38;
          // Ignored strikes are drawn below the line: most are too soft to be visible above it.
          return away.has(k) ? (
            <rect key={k} x={x} y={42.5} width={2} height={9} fill="var(--amber-line)" data-away="" />
          ) : (
            <rect key={k} x={x} y={40 - height} width={1.6} height={height} fill="var(--ink)" />
          );
        })}
      </svg>
      {learned.cross_talk.map((talk, k) => (
        <span key={`${talk.after} ${talk.note}`}>
          {name(talk.after)} triggers {name(talk.note)}:{' '}
          <Limits
            talk={talk}
            onChange={(next) =>
              onRules({
                cross_talk: learned.cross_talk.map((b, i) => (i === k ? next : b)),
                doubles_ms: learned.doubles_ms,
              })
            }
          />
          , {count(shaken(talk), 'strike')}.
        </span>
      ))}
      {learned.doubles_ms > 0 && (
        <span>
          Double triggers within{' '}
          <Typed
            label="Doubles within milliseconds"
            value={learned.doubles_ms}
            onType={(ms) =>
              onRules({ cross_talk: [...learned.cross_talk], doubles_ms: within('input.doubles_ms', Math.round(ms)) })
            }
          />{' '}
          ms, {count(doubles, 'strike')}.
        </span>
      )}
      <span className="flex gap-1.5">
        {learned.removed.length > 0 && (
          <button type="button" className="btn btn-go" onClick={onUse}>
            Ignore them
          </button>
        )}
        <button type="button" className="btn" onClick={onLeave}>
          {learned.removed.length ? 'Cancel' : 'Good'}
        </button>
      </span>
    </div>
  );
}
