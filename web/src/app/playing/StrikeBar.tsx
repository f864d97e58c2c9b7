/** The strike bar at the foot of every step. Its one job: what did I just hear? */
import { useQuery } from '@tanstack/react-query';
import { CircleDot, Play, Square } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { get } from '../../api/calls';
import { WhichIsHeard } from '../comparing/WhichIsHeard';
import { decibels, gainToDecibels } from '../kit/format';
import { transport, useKit } from '../kit/kitStore';
import { lookOn } from '../kit/looks';
import { JobProgress } from '../shell/Jobs';
import { useLookedAtSteps } from '../shell/steps';
import { useGrooveAtHand, useTransport } from './grooves';
import { InputsPanel } from './InputsPanel';
import { inputName, useInputs } from './inputs';
import { CameIn, LastStrike, Tape } from './LastStrike';
import { connectIfAllowed, useMidi } from './midi';
import { stopPerforming } from './simulatedKits';

export const useSimulatedKits = () =>
  useQuery({
    queryKey: ['simulated-kits'],
    queryFn: () => get('/api/simulated-kits', {}),
    staleTime: Number.POSITIVE_INFINITY,
  });

export function StrikeBar() {
  const { data } = useSimulatedKits();
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
  // A new player takes every pedal for open, so it is told where they are.
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
        title="Input devices"
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
      <WhichIsHeard />
      <JobProgress />
      <Loading />
      <Heard />
      <button
        type="button"
        className="rounded-lg border border-foot-line px-2.5 py-1.5 text-small hover:bg-foot-line"
        onClick={() => {
          transport.stop();
          stopPerforming();
          useKit.getState().player?.stopAll();
        }}
        title="Stop the groove and all sound (Esc stops the sound only)"
      >
        Stop sound
      </button>
    </footer>
  );
}

function GrooveSwitch() {
  useGrooveAtHand();
  const running = useTransport(() => transport.running);
  const name = useTransport(() => transport.groove?.name ?? '');
  const kit = useKit((s) => s.kit?.id);
  useEffect(() => {
    if (running && kit) useLookedAtSteps.getState().look(kit, 'rehearsal');
  }, [running, kit]);
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

/** The output level, with the highest of the last second. */
function Heard() {
  const player = useKit((s) => s.player);
  const bar = useRef<HTMLDivElement>(null);
  const figure = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    if (!player) return;
    let held = 0;
    let since = 0;
    return lookOn((time) => {
      const peak = player.heard.peak();
      if (peak >= held || time - since > 1000) {
        held = peak;
        since = time;
      }
      const place = Math.max(0, Math.min(1, (gainToDecibels(peak) + 60) / 60));
      const said = `peak ${decibels(gainToDecibels(held))} dB`;
      if (bar.current) bar.current.style.scale = `${place.toFixed(3)} 1`;
      // Writing equal text again would cause a layout.
      if (figure.current && figure.current.textContent !== said) figure.current.textContent = said;
      return held > 0;
    });
  }, [player]);
  return (
    <span className="flex items-center gap-2.5" title="Peak of all outputs together, in dBFS">
      <span ref={figure} className="num w-[112px] text-right whitespace-nowrap text-foot-soft [contain:content]" />
      <span className="h-2.5 w-[84px] overflow-hidden rounded-full bg-foot-line">
        <div ref={bar} className="meter h-full w-full origin-left scale-x-0" />
      </span>
    </span>
  );
}
