/** A simulated electronic kit on the screen: pads to press, a pedal to move, and a beat it plays by itself. */
import { Play, Square } from 'lucide-react';
import { type PointerEvent, useRef } from 'react';
import type { ElectronicKit, Pad, Plays } from '../../api/calls';
import { Slider } from '../../ui/Slider';
import { useKit } from '../kit/kitStore';
import { useInputs } from './inputs';
import { holdPad, movePedal, perform, stopPerforming, strikePad, usePerforming } from './simulatedKits';

const WIDTH = 326;
const HEIGHT = 204;
/** A pad held this long counts as held by a hand. */
const HOLD_MS = 320;

export function Pads({ kit }: { kit: ElectronicKit }) {
  const keyVelocity = useInputs((s) => s.keyVelocity);
  const openness = useInputs((s) => s.openness);
  const setKeyVelocity = useInputs((s) => s.setKeyVelocity);
  const last = useInputs((s) => (s.last?.input === kit.id && s.last.kind === 'note' ? s.last.number : null));
  const names = useKit((s) => s.kit?.head.note_names);
  const holding = useRef<ReturnType<typeof setTimeout> | null>(null);
  const held = useRef<Pad | null>(null);
  const press = (event: PointerEvent<SVGCircleElement>, pad: Pad, edge: boolean) => {
    const box = event.currentTarget.getBoundingClientRect();
    const distance =
      Math.hypot(event.clientX - box.left - box.width / 2, event.clientY - box.top - box.height / 2) / (box.width / 2);
    strikePad(kit, pad, edge ? 110 : Math.max(1, Math.min(127, Math.round(127 - distance * 110))), edge);
    if (pad.stoppable) {
      holding.current = setTimeout(() => {
        held.current = pad;
        holdPad(kit, pad, true);
      }, HOLD_MS);
    }
  };
  const letGo = () => {
    if (holding.current !== null) clearTimeout(holding.current);
    holding.current = null;
    if (held.current) holdPad(kit, held.current, false);
    held.current = null;
  };
  return (
    <div className="grid gap-2">
      <p className="text-tiny text-soft">Simulated pad kit. {kit.says}</p>
      <svg width={WIDTH} height={HEIGHT} viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className="touch-none select-none">
        {kit.pads.map((pad) => {
          const r = (pad.size * WIDTH) / 2;
          const sent = kit.hat_notes.length && pad.name === kit.hat_pad ? kit.hat_notes.map((h) => h.note) : [pad.note];
          const lit = last !== null && (sent.includes(last) || last === pad.edge_note);
          return (
            <g key={pad.name} transform={`translate(${pad.x * WIDTH} ${pad.y * HEIGHT})`}>
              {pad.edge_note !== null && (
                <circle
                  r={r + 7}
                  fill="var(--sunk)"
                  stroke={last === pad.edge_note ? 'var(--plum)' : 'var(--ink)'}
                  strokeWidth={last === pad.edge_note ? 2.4 : 1}
                  className="cursor-pointer"
                  data-pad={`${pad.name} edge`}
                  onPointerDown={(event) => press(event, pad, true)}
                />
              )}
              <circle
                r={r}
                fill="var(--v2)"
                stroke={lit && last !== pad.edge_note ? 'var(--plum)' : 'var(--ink)'}
                strokeWidth={lit && last !== pad.edge_note ? 2.6 : 1.2}
                className="cursor-pointer"
                data-pad={pad.name}
                onPointerDown={(event) => press(event, pad, false)}
                onPointerUp={letGo}
                onPointerLeave={letGo}
              />
              <circle r={r * 0.55} fill="var(--v4)" className="pointer-events-none" />
              <text
                textAnchor="middle"
                y={4}
                className="pointer-events-none"
                fontSize={12}
                fontWeight={700}
                fill="#fff"
              >
                {pad.key}
              </text>
              <text
                textAnchor="middle"
                y={r + (pad.edge_note !== null ? 20 : 14)}
                className="pointer-events-none"
                fontSize={11.5}
                fill="var(--soft)"
              >
                {pad.name} {sent.join('/')}
              </text>
            </g>
          );
        })}
      </svg>
      <div className="grid grid-cols-[92px_1fr] items-center gap-x-3 gap-y-1 text-small">
        <span>Hi-hat pedal</span>
        <Slider
          label="Hi-hat pedal openness"
          value={openness}
          min={0}
          max={127}
          step={1}
          reset={127}
          show={(v) => (v === 0 ? 'closed' : v === 127 ? 'open' : String(v))}
          onChange={(to) => movePedal(kit, to)}
        />
        <span>Key velocity</span>
        <Slider
          label="Velocity of the computer keys"
          value={keyVelocity}
          min={1}
          max={127}
          step={1}
          reset={96}
          show={String}
          onChange={setKeyVelocity}
        />
      </div>
      <span className="flex flex-wrap gap-1.5">
        <PlaysItself kit={kit} asked={{ what: 'beat' }} name="A beat" />
        <PlaysItself kit={kit} asked={{ what: 'every_pad' }} name="Every pad once" />
      </span>
      <p className="text-tiny text-faint">
        Nearer the centre is harder. Keys A S D F G strike; Shift+S is the snare’s edge; C opens and closes the hats
        {kit.pads.some((p) => p.stoppable) ? '; hold the crash to stop it' : ''}. Pedal note{' '}
        <span className="num">
          {kit.pedal_note} {names?.[kit.pedal_note]}
        </span>
        {kit.openness_controller !== null && (
          <>
            , openness <span className="num">CC {kit.openness_controller}</span>
          </>
        )}
        .
      </p>
    </div>
  );
}

/** A button that starts and stops a simulated kit playing by itself. */
export function PlaysItself(props: { kit: ElectronicKit; asked: Plays; name: string; onDone?: () => void }) {
  const { kit, asked, name, onDone } = props;
  const running = usePerforming((s) => s.kit === kit.id && s.what === name);
  return (
    <button
      type="button"
      className={`btn inline-flex items-center gap-1.5 ${running ? 'border-plum bg-plum-wash' : ''}`}
      aria-pressed={running}
      onClick={() => {
        if (running) stopPerforming();
        else void perform(kit, asked, name).then(onDone);
      }}
    >
      {running ? (
        <Square size={11} fill="currentColor" aria-hidden="true" />
      ) : (
        <Play size={11} fill="currentColor" aria-hidden="true" />
      )}
      {name}
    </button>
  );
}
