/** Always at the foot. Its one job: what did I just hear? */
import { useQuery } from '@tanstack/react-query';
import { CircleDot, Play, Square } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { get } from '../api/calls';
import type { Message, Unplayed } from './door';
import { decibels, gainToDecibels, layerColour, minus, strengthColour } from './format';
import { useGrooveAtHand, useTransport } from './grooves';
import { InputsPanel } from './InputsPanel';
import { inputName, useInputs } from './inputs';
import { JobProgress } from './Jobs';
import { articulationIn, outputsOf, transport, useKit } from './kitStore';
import { connectIfAllowed, useMidi } from './midi';
import { stopPerforming } from './standins';
import { useStrikes } from './strikes';

export const useStandIns = () =>
  useQuery({
    queryKey: ['stand-ins'],
    queryFn: () => get('/api/stand-ins', {}),
    staleTime: Number.POSITIVE_INFINITY,
  });

export function StrikeBar() {
  const { data } = useStandIns();
  const kits = data?.electronic_kits;
  const chosen = useInputs((s) => s.chosen);
  const open = useInputs((s) => s.open);
  const known = useInputs((s) => s.kits);
  const devices = useMidi((s) => s.devices);
  useEffect(() => {
    if (kits) useInputs.getState().setKits(kits);
  }, [kits]);
  useEffect(() => {
    void connectIfAllowed();
  }, []);
  // A player that was just made takes every pedal for open.
  const player = useKit((s) => s.player);
  useEffect(() => {
    if (player) useInputs.setState({ openness: 127, pedals: {} });
  }, [player]);
  return (
    <footer
      className="flex min-w-0 items-center overflow-hidden gap-4 bg-foot px-4 text-foot-ink"
      data-testid="strike-bar"
    >
      <button
        type="button"
        title="Where strikes come from"
        aria-expanded={open}
        aria-controls="inputs"
        onClick={() => useInputs.setState({ open: !open })}
        className={`flex max-w-[150px] items-center gap-2 rounded-lg border px-2.5 py-1.5 text-small whitespace-nowrap ${
          open ? 'border-foot-soft bg-foot-line' : 'border-foot-line'
        }`}
      >
        <CircleDot size={13} className="shrink-0" aria-hidden="true" />
        <span className="truncate">{inputName(chosen, known, devices)}</span>
      </button>
      {open && <InputsPanel />}
      <GrooveSwitch />
      <CameIn />
      <LastStrike />
      <Tape />
      <JobProgress />
      <Loading />
      <Heard />
      <button
        type="button"
        className="rounded-lg border border-foot-line px-2.5 py-1.5 text-small hover:bg-foot-line"
        onClick={() => {
          transport.stop();
          stopPerforming();
          useKit.getState().player?.silence();
        }}
        title="Stop the groove and everything that sounds (Esc silences, the groove runs on)"
      >
        Silence
      </button>
    </footer>
  );
}

function GrooveSwitch() {
  useGrooveAtHand();
  const running = useTransport(() => transport.running);
  const name = useTransport(() => transport.groove?.name ?? '');
  if (!name) return null;
  return (
    <button
      type="button"
      onClick={() => transport.toggle()}
      aria-label={running ? `Stop ${name}` : `Play ${name}`}
      title={`${name} (space bar)`}
      className="flex h-8 w-8 items-center justify-center rounded-full border border-foot-line hover:bg-foot-line"
    >
      {running ? <Square size={13} fill="currentColor" /> : <Play size={14} fill="currentColor" />}
    </button>
  );
}

const WHY: Record<string, string> = {
  free: 'nothing is on this note',
  ignored: 'softer than the curve lets in',
  cross_talk: 'cross-talk of another pad, not played',
  double: 'a double of the strike before, not played',
  unanswered: 'no layer answers it',
};

function LastStrike() {
  const last = useStrikes((s) => s.last);
  const kit = useKit((s) => s.kit);
  const pieces = useKit((s) => s.pieces);
  if (!last || !kit) {
    return <span className="text-small text-foot-soft">Press a skin, or A S D F G, to strike</span>;
  }
  if (last.ignored) {
    const aimed = last.aimed ? articulationIn(pieces, last.aimed) : null;
    return (
      <div className="grid min-w-0" data-testid="last-strike">
        <span className="truncate text-[14px] font-semibold whitespace-nowrap text-foot-soft">
          {aimed ? `${aimed.piece.name} · ${aimed.stroke.name}` : 'Nothing plays'}
        </span>
        <span className="num truncate whitespace-nowrap text-foot-soft">
          in {last.velocityIn} → {WHY[last.why] ?? 'nothing plays'}
        </span>
      </div>
    );
  }
  const outputs = outputsOf(kit.head, last.pieceId);
  return (
    <div className="flex min-w-0 items-center gap-3 overflow-hidden" data-testid="last-strike">
      <span className="flex shrink-0 items-center gap-2 text-[15px] font-semibold whitespace-nowrap">
        <i
          className="inline-block h-5 w-2.5 shrink-0 rounded-sm"
          style={{ background: layerColour(last.layer, last.layers) }}
          aria-hidden="true"
        />
        {last.piece} · {last.articulation}
      </span>
      <span className="num whitespace-nowrap text-foot-soft">
        in {last.velocityIn} → {last.velocity}
      </span>
      <span className="num whitespace-nowrap text-foot-soft max-[1100px]:hidden">
        layer {last.layer + 1} · take {last.take} of {last.takes}
        {last.substituted ? ' (nearest loaded)' : ''}
      </span>
      <span className="num whitespace-nowrap text-foot-soft max-[1240px]:hidden">→ out {outputs.join(' · ')}</span>
    </div>
  );
}

/** The last message as it came in, whatever it plays. */
function CameIn() {
  const message = useInputs((s) => s.last);
  const released = useInputs((s) => s.released);
  const strike = useStrikes((s) => s.last);
  const kits = useInputs((s) => s.kits);
  const devices = useMidi((s) => s.devices);
  const kit = useKit((s) => s.kit);
  const player = useKit((s) => s.player);
  if (!kit) return null;
  // Grooves and skins send no messages; their strikes stand for them.
  const silent = strike && strike.source !== message?.input && strike.time > (message?.at ?? 0);
  const last = silent
    ? { input: strike.source, kind: 'note' as const, number: strike.note, value: strike.velocityIn }
    : message;
  if (!last) return null;
  const from = inputName(last.input, kits, devices);
  const name = last.number === null ? '' : (kit.head.note_names[last.number] ?? '');
  const pedal = last.kind === 'controller' && player?.controllerOf(last.input) === last.number;
  const openness = pedal ? ` · openness ${player?.opennessOf(last.input)}` : '';
  return (
    <span
      className="grid shrink-0 leading-tight whitespace-nowrap text-foot-soft max-[1080px]:hidden"
      data-testid="came-in"
      title={`The last message, from ${from}`}
    >
      <span className="text-tiny">{from} sent</span>
      <span className="num">
        {WHAT[last.kind](name, last.number, last.value)}
        {openness}
        {!silent && released && <span className="text-tiny"> · off</span>}
      </span>
    </span>
  );
}

const WHAT: Record<(Message | Unplayed)['kind'], (name: string, number: number | null, value: number) => string> = {
  note: (name, number, value) => (number === null ? String(value) : `${name} ${number} · ${value}`),
  controller: (_, number, value) => `CC ${number} · ${value}`,
  pressure: (name, _, value) => `hand on ${name} · ${value}`,
  'note off': (name, number) => `${name} ${number} off`,
  'pitch bend': (_, __, value) => `pitch bend ${minus(String(value))}`,
  program: (_, number) => `program ${(number ?? 0) + 1}`,
  'whole pressure': (_, __, value) => `pressure ${value}`,
};

function Tape() {
  const tape = useStrikes((s) => s.tape);
  return (
    // What was just heard comes first: where room is short, the oldest strikes of the tape give way.
    <span className="flex min-w-0 grow shrink-[999] justify-end overflow-hidden">
      <svg width={200} height={40} className="max-[1100px]:hidden" role="img" aria-label="The last strikes">
        {tape.map((strike, k) => (
          <rect
            key={k}
            x={200 - (tape.length - k) * 5}
            y={38 - strike.velocity * 0.28}
            width={3.5}
            height={Math.max(1.5, strike.velocity * 0.28)}
            rx={1.5}
            fill={strike.ignored ? 'var(--foot-line)' : strengthColour(strike.velocity / 127)}
          />
        ))}
      </svg>
    </span>
  );
}

function Loading() {
  const player = useKit((s) => s.player);
  const [state, setState] = useState<{ toCome: number; lost: number } | null>(null);
  useEffect(() => {
    if (!player) return setState(null);
    let waiting = false;
    const look = () => {
      waiting = false;
      setState({ toCome: player.sounds.toCome, lost: player.sounds.lost });
    };
    look();
    return player.sounds.onChange(() => {
      if (!waiting) {
        waiting = true;
        setTimeout(look, 120);
      }
    });
  }, [player]);
  if (!state) return null;
  if (state.toCome) {
    return (
      <span className="num whitespace-nowrap text-foot-soft" data-testid="loading">
        {state.toCome} to load
      </span>
    );
  }
  if (state.lost) return <span className="num whitespace-nowrap text-foot-soft">{state.lost} not loaded</span>;
  return <span className="hidden" data-testid="all-loaded" />;
}

/** The level of what is heard, with the highest of the last second. */
function Heard() {
  const player = useKit((s) => s.player);
  const bar = useRef<HTMLDivElement>(null);
  const figure = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    if (!player) return;
    let frame = 0;
    let held = 0;
    let since = 0;
    let drawn = 0;
    const draw = (time: number) => {
      frame = requestAnimationFrame(draw);
      // Thirty times a second is as fast as a level is read; the rest of the time belongs to strikes.
      if (time - drawn < 30) return;
      drawn = time;
      const peak = player.heard.peak();
      if (peak >= held || time - since > 1000) {
        held = peak;
        since = time;
      }
      const place = Math.max(0, Math.min(1, (gainToDecibels(peak) + 60) / 60));
      const said = `heard ${decibels(gainToDecibels(held))}`;
      if (bar.current) bar.current.style.scale = `${place.toFixed(3)} 1`;
      // The same text written again would be laid out again.
      if (figure.current && figure.current.textContent !== said) figure.current.textContent = said;
    };
    frame = requestAnimationFrame(draw);
    return () => cancelAnimationFrame(frame);
  }, [player]);
  return (
    <span className="flex items-center gap-2.5" title="Peak of all outputs together, in dBFS">
      <span ref={figure} className="num w-[88px] text-right whitespace-nowrap text-foot-soft [contain:content]" />
      <span className="h-2.5 w-[84px] overflow-hidden rounded-full bg-foot-line">
        <div ref={bar} className="meter h-full w-full origin-left scale-x-0" />
      </span>
    </span>
  );
}
