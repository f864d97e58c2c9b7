/** The last strike and what it played, or why nothing sounded. */
import { useEffect, useState } from 'react';
import { layerColour, strengthColour } from '../../ui/colours';
import { minus } from '../kit/format';
import { articulationIn, useKit } from '../kit/kitStore';
import type { Message, Unplayed } from './door';
import { inputName, useInputs } from './inputs';
import { useMidi } from './midi';
import { useStrikes } from './strikes';

const WHY: Record<string, string> = {
  free: 'nothing on this note',
  ignored: 'below the minimum velocity',
  cross_talk: 'cross-talk from another pad, ignored',
  double: 'double trigger, ignored',
  unanswered: 'no layer at this velocity',
};

export function LastStrike() {
  const last = useStrikes((s) => s.last);
  const kit = useKit((s) => s.kit);
  const pieces = useKit((s) => s.pieces);
  const awake = useAwake();
  if (!awake && last) {
    return (
      <span className="grid min-w-0" data-testid="last-strike">
        <span className="text-[14px] font-semibold whitespace-nowrap">Sound is off in this browser</span>
        <span className="num truncate whitespace-nowrap text-foot-soft">press anywhere to switch it on</span>
      </span>
    );
  }
  if (!last || !kit) {
    return <span className="text-small text-foot-soft">Press a drum, or A S D F G, to strike</span>;
  }
  if (last.ignored) {
    const aimed = last.aimed ? articulationIn(pieces, last.aimed) : null;
    return (
      <div className="grid min-w-0" data-testid="last-strike">
        <span className="truncate text-[14px] font-semibold whitespace-nowrap text-foot-soft">
          {aimed ? `${aimed.piece.name} · ${aimed.articulation.name}` : 'Nothing plays'}
        </span>
        <span className="num truncate whitespace-nowrap text-foot-soft">
          in {last.velocityIn} → {WHY[last.why] ?? 'nothing plays'}
        </span>
      </div>
    );
  }
  const outputs = kit.head.piece_outputs[last.pieceId] ?? [];
  const unheard = last.loaded ? kit.head.silent[last.pieceId] : 'not loaded yet: nothing was heard';
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
      {unheard && (
        <span className="truncate text-small font-semibold text-foot-warn" title={unheard} data-testid="unheard">
          {last.loaded ? `not heard: ${unheard}` : unheard}
        </span>
      )}
      <span className="num whitespace-nowrap text-foot-soft max-[1100px]:hidden">
        layer {last.layer + 1} · take {last.label}
        {last.takes > 1 ? `, one of ${last.takes}` : ''}
        {last.substituted ? ' (nearest loaded)' : ''}
        {last.letGo ? ' · oldest voice dropped' : ''}
      </span>
      <span className="num whitespace-nowrap text-foot-soft max-[1240px]:hidden">→ out {outputs.join(' · ')}</span>
    </div>
  );
}

/** Whether the browser lets sound out: it does once something has been pressed. */
function useAwake(): boolean {
  const player = useKit((s) => s.player);
  const [awake, setAwake] = useState(true);
  useEffect(() => {
    if (!player) return;
    const { context } = player;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const look = () => {
      clearTimeout(timer);
      if (context.state === 'running') setAwake(true);
      // The audio context takes a moment to start after that press.
      else timer = setTimeout(() => setAwake(context.state === 'running'), 400);
    };
    const wake = () => player.wake();
    look();
    context.addEventListener('statechange', look);
    window.addEventListener('pointerdown', wake, true);
    window.addEventListener('keydown', wake, true);
    return () => {
      clearTimeout(timer);
      context.removeEventListener('statechange', look);
      window.removeEventListener('pointerdown', wake, true);
      window.removeEventListener('keydown', wake, true);
    };
  }, [player]);
  return awake;
}

/** The last message as it was received, whether or not it plays something. */
export function CameIn() {
  const message = useInputs((s) => s.last);
  const released = useInputs((s) => s.released);
  const strike = useStrikes((s) => s.last);
  const kits = useInputs((s) => s.kits);
  const devices = useMidi((s) => s.devices);
  const kit = useKit((s) => s.kit);
  const player = useKit((s) => s.player);
  if (!kit) return null;
  // Grooves and drawings send no messages; their strikes are shown instead.
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
  'channel pressure': (_, __, value) => `pressure ${value}`,
};

export function Tape() {
  const tape = useStrikes((s) => s.tape);
  return (
    // The newest comes first: if space is short, older strikes are hidden.
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
