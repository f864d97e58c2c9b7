/** Rehearsal: hear the kit in a groove that keeps playing while anything is edited. */

import { Play, Square, Upload } from 'lucide-react';
import { useEffect, useMemo, useRef } from 'react';
import { type Groove, type KitState, postForm } from '../../api/calls';
import { count } from '../../app/kit/format';
import { articulationIn, transport, useKit } from '../../app/kit/kitStore';
import { useWrite } from '../../app/kit/writes';
import { strikeNote } from '../../app/playing/door';
import { useChooseGroove, useGrooves, useTransport } from '../../app/playing/grooves';
import { NextStep } from '../../app/shell/NextStep';
import { strengthColour } from '../../ui/colours';
import { Slider } from '../../ui/Slider';

export default function Rehearsal() {
  const kit = useKit((s) => s.kit) as KitState;
  const input = useRef<HTMLInputElement>(null);
  const { data: grooves = [] } = useGrooves();
  const groove = useTransport(() => transport.groove);
  const running = useTransport(() => transport.running);
  const looping = useTransport(() => transport.looping);
  const tempo = useTransport(() => transport.tempo);

  const choose = useChooseGroove();

  const { send: upload } = useWrite(
    async (file: File) => {
      const form = new FormData();
      form.append('file', file);
      const [card] = await postForm('/api/grooves', {}, form);
      if (card) await choose(card.id);
    },
    { changes: ['grooves'] },
  );
  return (
    <div className="panes grid min-h-0 grid-cols-[248px_minmax(0,1fr)]">
      <aside className="overflow-y-auto border-r border-line px-2.5 py-3" aria-label="Grooves">
        <h2 className="head mx-1.5 mb-2">Grooves</h2>
        <ul className="grid gap-px">
          {grooves.map((card) => (
            <li key={card.id}>
              <button
                type="button"
                aria-current={groove?.id === card.id}
                onClick={() => void choose(card.id)}
                className={`w-full rounded-[9px] px-2.5 py-2 text-left ${
                  groove?.id === card.id ? 'bg-card shadow-[0_0_0_1px_var(--line),var(--shadow)]' : 'hover:bg-sunk'
                }`}
              >
                <span className="block font-semibold">{card.name}</span>
                <span className="num text-faint">
                  {Math.round(card.bpm)} bpm · {count(card.strikes, 'strike')}
                </span>
              </button>
            </li>
          ))}
        </ul>
        <button type="button" className="btn mt-3 ml-1.5" onClick={() => input.current?.click()}>
          <Upload size={13} aria-hidden="true" /> Import MIDI file
        </button>
        <input
          ref={input}
          type="file"
          hidden
          accept=".mid,.midi"
          data-testid="midi-input"
          onChange={(event) => {
            const file = event.target.files?.[0];
            event.target.value = '';
            if (file) void upload(file);
          }}
        />
      </aside>
      <main className="flex min-h-0 flex-col gap-3 overflow-auto px-[18px] py-3.5">
        <div className="flex flex-wrap items-center gap-3">
          <h1>{groove?.name ?? 'Rehearsal'}</h1>
          {groove && (
            <span className="num text-faint">
              {count(groove.events.filter((e) => e.kind === 'strike').length, 'strike')}
            </span>
          )}
          <span className="grow" />
        </div>
        {groove ? (
          <>
            <section className="card flex items-center gap-5" aria-label="Transport">
              <button type="button" className="btn btn-go px-5 py-2 text-[14px]" onClick={() => transport.toggle()}>
                {running ? <Square size={13} fill="currentColor" /> : <Play size={14} fill="currentColor" />}
                {running ? 'Stop' : 'Start'}
              </button>
              <span className="text-tiny text-faint">
                Space starts and stops it,
                <br />
                in every step
              </span>
              <label className="flex items-center gap-2 font-medium">
                <input
                  type="checkbox"
                  checked={looping}
                  onChange={(event) => transport.setLooping(event.target.checked)}
                />
                Loop
              </label>
              <span className="flex grow items-center gap-3">
                <span className="font-medium">Tempo</span>
                <Slider
                  label="Tempo"
                  value={tempo}
                  min={40}
                  max={240}
                  step={1}
                  page={10}
                  reset={groove.bpm}
                  show={(v) => `${Math.round(v)} bpm`}
                  onChange={(bpm) => transport.setTempo(bpm)}
                />
              </span>
              <button
                type="button"
                className="btn"
                disabled={tempo === groove.bpm}
                onClick={() => transport.setTempo(groove.bpm)}
              >
                As written, {Math.round(groove.bpm)}
              </button>
            </section>
            <Score groove={groove} />
            <NextStep step="rehearsal" />
            {kit.order.length === 0 && (
              <p className="text-soft">This kit has no pieces yet; the groove runs and nothing sounds.</p>
            )}
          </>
        ) : (
          <p className="text-soft">Choose a groove, or import a MIDI file.</p>
        )}
      </main>
    </div>
  );
}

interface Row {
  key: string;
  name: string;
  order: number;
  strikes: { time: number; velocity: number }[];
  mapped: boolean;
}

/**
 * The groove as a score: a row per articulation, a mark per strike, larger and darker the harder; with the playing
 * position.
 */
function Score({ groove }: { groove: Groove }) {
  const kit = useKit((s) => s.kit) as KitState;
  const pieces = useKit((s) => s.pieces);
  const place = useRef<HTMLDivElement>(null);
  const rows = useMemo(() => {
    const found = new Map<number, Row>();
    for (const event of groove.events) {
      if (event.kind !== 'strike') continue;
      let row = found.get(event.note);
      if (!row) {
        const plays = kit.head.sheet.find((each) => each.note === event.note)?.open_articulation;
        const what = plays ? articulationIn(pieces, plays) : null;
        row = {
          key: String(event.note),
          name: what
            ? `${what.piece.name} · ${what.articulation.name}`
            : `${kit.head.note_names[event.note]} plays nothing`,
          order: what ? kit.order.indexOf(what.piece.id) : 99,
          strikes: [],
          mapped: what !== null,
        };
        found.set(event.note, row);
      }
      row.strikes.push({ time: event.time_s, velocity: event.velocity });
    }
    return [...found.entries()].sort((a, b) => a[1].order - b[1].order || a[0] - b[0]);
  }, [groove, kit.head, kit.order, pieces]);
  const running = useTransport(() => transport.running);
  useEffect(() => {
    if (!running) return;
    let frame = 0;
    const draw = () => {
      if (place.current) place.current.style.left = `${(transport.position() / groove.length_s) * 100}%`;
      frame = requestAnimationFrame(draw);
    };
    frame = requestAnimationFrame(draw);
    return () => cancelAnimationFrame(frame);
  }, [groove, running]);
  const beat = 60 / groove.bpm;
  const beats = Math.round(groove.length_s / beat);
  return (
    <section className="card grid grid-cols-[158px_minmax(0,1fr)] gap-x-3 gap-y-0 overflow-y-auto" aria-label="Score">
      <div className="grid content-start gap-1.5 pt-5">
        {rows.map(([note, row]) => (
          <button
            key={row.key}
            type="button"
            className={`h-[30px] truncate text-left ${row.mapped ? 'font-medium' : 'text-amber'}`}
            title={`Strike ${kit.head.note_names[note]} ${note}`}
            onClick={() => strikeNote(note, 100)}
          >
            {row.name}
          </button>
        ))}
      </div>
      <div className="relative">
        <svg
          width="100%"
          height={22 + rows.length * 36}
          preserveAspectRatio="none"
          className="block"
          role="img"
          aria-label={`${groove.name}, written out`}
        >
          {Array.from({ length: beats + 1 }, (_, k) => {
            const at = `${((k * beat) / groove.length_s) * 100}%`;
            const bar = k % groove.beats_a_bar === 0;
            return (
              <g key={k}>
                <line x1={at} x2={at} y1={bar ? 4 : 18} y2="100%" stroke={bar ? 'var(--edge)' : 'var(--line)'} />
                {bar && k < beats && (
                  <text x={at} dx={4} y={13} className="num" fontSize={11.5} fill="var(--faint)">
                    {k / groove.beats_a_bar + 1}
                  </text>
                )}
              </g>
            );
          })}
          {rows.map(([, row], number) => (
            <g key={row.key}>
              <line x1="0" x2="100%" y1={20 + number * 36 + 30} y2={20 + number * 36 + 30} stroke="var(--line)" />
              {row.strikes.map((strike) => {
                const height = 3 + (strike.velocity / 127) * 25;
                return (
                  <rect
                    key={strike.time}
                    x={`${(strike.time / groove.length_s) * 100}%`}
                    y={20 + number * 36 + 30 - height}
                    width={5}
                    height={height}
                    rx={1.5}
                    fill={row.mapped ? strengthColour(strike.velocity / 127) : 'var(--edge)'}
                    stroke="var(--edge)"
                    strokeWidth={0.4}
                  />
                );
              })}
            </g>
          ))}
        </svg>
        {running && <div ref={place} className="pointer-events-none absolute inset-y-0 left-0 w-0.5 bg-plum" />}
      </div>
    </section>
  );
}
