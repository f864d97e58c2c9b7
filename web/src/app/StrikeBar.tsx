/** Always at the foot. Its one job: what did I just hear? */
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { useQuery } from '@tanstack/react-query';
import { CircleDot, Play, Square } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { get, type StandIns } from '../api/calls';
import { Deckhand } from './Deckhand';
import { decibels, gainToDecibels, layerColour, strengthColour } from './format';
import { useGrooveAtHand, useTransport } from './grooves';
import { useInput } from './input';
import { JobProgress } from './Jobs';
import { outputsOf, transport, useKit } from './kitStore';
import { useStrikes } from './strikes';

export const useStandIns = () =>
  useQuery({
    queryKey: ['stand-ins'],
    queryFn: () => get<StandIns>('/stand-ins'),
    staleTime: Number.POSITIVE_INFINITY,
  });

const SOURCES: Record<string, string> = {
  'deckhand-5': 'Deckhand 5',
  groove: 'Groove',
  skin: 'Pointer',
  notes: 'Pointer',
  take: 'One take',
};

export function StrikeBar() {
  const { data } = useStandIns();
  const pads = data?.electronic_kits[0];
  useEffect(() => {
    if (pads) useInput.getState().setPads(pads);
  }, [pads]);
  return (
    <footer
      className="flex min-w-0 items-center overflow-hidden gap-4 bg-foot px-4 text-foot-ink"
      data-testid="strike-bar"
    >
      <Popover className="relative">
        <PopoverButton className="flex items-center gap-2 rounded-lg border border-foot-line px-2.5 py-1.5 text-small whitespace-nowrap">
          <CircleDot size={13} aria-hidden="true" /> Deckhand 5
        </PopoverButton>
        <PopoverPanel
          static={false}
          anchor={{ to: 'top start', gap: 14, padding: 12 }}
          className="z-40 w-[360px] rounded-2xl border border-line bg-card p-4 text-ink shadow-xl"
        >
          {pads && <Deckhand kit={pads} />}
        </PopoverPanel>
      </Popover>
      <GrooveSwitch />
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

function LastStrike() {
  const last = useStrikes((s) => s.last);
  const kit = useKit((s) => s.kit);
  if (!last || !kit) {
    return <span className="text-small text-foot-soft">Press a skin, or A S D F G, to strike</span>;
  }
  if (last.ignored) {
    return (
      <span className="num text-foot-soft" data-testid="last-strike">
        {last.note !== null ? `${kit.head.note_names[last.note]} ${last.note} · ` : ''}in {last.velocityIn} → nothing
        plays
      </span>
    );
  }
  const outputs = outputsOf(kit, last.pieceId);
  return (
    <div className="flex min-w-0 items-center gap-3" data-testid="last-strike">
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
      <span className="num whitespace-nowrap text-foot-soft max-[1180px]:hidden">
        → out {outputs.join(' · ')}{' '}
        <span className="max-[1440px]:hidden">{SOURCES[last.source] ? `· ${SOURCES[last.source]}` : ''}</span>
      </span>
    </div>
  );
}

function Tape() {
  const tape = useStrikes((s) => s.tape);
  return (
    <span className="flex min-w-0 grow justify-end overflow-hidden">
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
    const draw = (time: number) => {
      const peak = player.heard.peak();
      if (peak >= held || time - since > 1000) {
        held = peak;
        since = time;
      }
      const place = Math.max(0, Math.min(1, (gainToDecibels(peak) + 60) / 60));
      if (bar.current) bar.current.style.scale = `${place} 1`;
      if (figure.current) figure.current.textContent = `heard ${decibels(gainToDecibels(held))}`;
      frame = requestAnimationFrame(draw);
    };
    frame = requestAnimationFrame(draw);
    return () => cancelAnimationFrame(frame);
  }, [player]);
  return (
    <span className="flex items-center gap-2.5" title="Peak of all outputs together, in dBFS">
      <span ref={figure} className="num w-[88px] text-right whitespace-nowrap text-foot-soft" />
      <span className="h-2.5 w-[84px] overflow-hidden rounded-full bg-foot-line">
        <div ref={bar} className="meter h-full w-full origin-left scale-x-0" />
      </span>
    </span>
  );
}
