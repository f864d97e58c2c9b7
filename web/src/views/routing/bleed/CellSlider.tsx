/** One cell of bleed: a piece's level in a microphone. Dragged up and down, nudged, typed, switched on and off. */
import { type KeyboardEvent, memo, type PointerEvent, useRef, useState } from 'react';
import { minus } from '../../../app/kit/format';
import { useKit } from '../../../app/kit/kitStore';
import { law } from '../../../ui/Fader';
import { newGesture } from '../../../ui/gestures';
import { useHeld } from '../../../ui/held';
import { useLatest } from '../../../ui/latest';
import { nudged } from '../../../ui/nudging';
import { beginsFigure, Typing } from '../../../ui/Typing';
import { type Cell, shadeOf } from './cells';

const [LEAST, MOST] = [law.from(0), law.from(1)];
/** The pointer's travel for the whole range. */
const TRAVEL_PX = 160;
const RAMP = ['var(--v1)', 'var(--v2)', 'var(--v3)', 'var(--v4)', 'var(--v5)', 'var(--v6)'];

interface CellProps {
  cell: Cell;
  name: string;
  /** Tab stops at this cell of its row. */
  stop: boolean;
  chosen: boolean;
  muted: boolean;
  onChoose: () => void;
  /** Go to a neighbour in the row, or to the row above or below. */
  onGo: (sideways: number, down: number) => void;
}

/** Redrawn only when what it shows has changed: there may be five hundred of them. */
export function CellSlider(props: CellProps) {
  return <Shown {...props} onChoose={useLatest(props.onChoose)} onGo={useLatest(props.onGo)} />;
}

const Shown = memo(
  Drawn,
  (a, b) =>
    a.name === b.name &&
    a.stop === b.stop &&
    a.chosen === b.chosen &&
    a.muted === b.muted &&
    a.cell.level_db === b.cell.level_db &&
    a.cell.on === b.cell.on &&
    a.cell.recorded_db === b.cell.recorded_db &&
    a.cell.own === b.cell.own,
);

function Drawn({ cell, name, stop, chosen, muted, onChoose, onGo }: CellProps) {
  const edit = useKit((s) => s.edit);
  const { held, hold, grip, letGo } = useHeld<number>(cell.level_db);
  const [typing, setTyping] = useState<string | null>(null);
  const from = useRef<{ y: number; place: number; gesture: string } | null>(null);
  const { piece, mic } = cell;
  const at = held ?? cell.level_db;
  const send = (level_db: number, gesture: string) => {
    const rounded = Math.max(LEAST, Math.min(MOST, Math.round(level_db * 10) / 10));
    hold(rounded);
    void edit({ kind: 'let_in', piece, mic, level_db: rounded, on: true }, gesture);
  };
  const toggle = () => void edit({ kind: 'let_in', piece, mic, on: !cell.on });
  const key = (event: KeyboardEvent) => {
    if (event.altKey || event.metaKey) return;
    const sideways = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0;
    const down = event.ctrlKey ? (event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0) : 0;
    const next = event.ctrlKey ? null : nudged(event.key, at, { least: LEAST, most: MOST, step: 0.5, page: 3 });
    if (sideways || down) onGo(sideways, down);
    else if (event.key === ' ' || event.key === 'Enter') toggle();
    else if (next !== null) send(next, newGesture('cell'));
    else if (beginsFigure(event.key)) setTyping(event.key);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const drag = (event: PointerEvent) => {
    if (!from.current) return;
    const place = from.current.place + (from.current.y - event.clientY) / TRAVEL_PX;
    if (Math.abs(from.current.y - event.clientY) > 2)
      send(law.from(Math.max(0, Math.min(1, place))), from.current.gesture);
  };
  const drop = () => {
    from.current = null;
    letGo();
  };
  const on = cell.on || held !== null;
  const share = Math.max(0, Math.min(1, law.to(at)));
  const recorded = minus(`${Math.round(cell.recorded_db)}`);
  const figure = minus(`${Number(at.toFixed(1))}`);
  return (
    <div className="relative">
      <div
        role="slider"
        tabIndex={stop ? 0 : -1}
        aria-label={name}
        aria-orientation="vertical"
        aria-valuemin={LEAST}
        aria-valuemax={MOST}
        aria-valuenow={at}
        aria-valuetext={`${on ? '' : 'off, kept at '}${figure} dB${cell.own ? ', its own microphone' : ''}${muted ? ', microphone muted' : ''}`}
        data-cell={`${piece} ${mic}`}
        data-on={on}
        data-shade={shadeOf(cell.recorded_db)}
        title={cell.own ? 'Its own microphone' : `Recorded at ${recorded} dB against its own microphone`}
        className={`relative h-[34px] cursor-ns-resize touch-none overflow-hidden rounded-[6px] ${
          on ? 'bg-card' : 'bg-sunk'
        } ${cell.own ? 'border-2 border-ink' : 'border border-line'} ${
          chosen ? 'outline-2 outline-offset-1 outline-plum outline-solid' : ''
        } ${muted ? 'opacity-45' : ''}`}
        onFocus={onChoose}
        onPointerDown={(event) => {
          if (event.button !== 0) return;
          event.currentTarget.setPointerCapture(event.pointerId);
          event.currentTarget.focus();
          from.current = { y: event.clientY, place: share, gesture: newGesture('cell') };
          grip();
        }}
        onPointerMove={drag}
        onPointerUp={drop}
        onPointerCancel={drop}
        onDoubleClick={toggle}
        onKeyDown={key}
      >
        <span
          className={`absolute inset-0 ${on ? '' : 'opacity-25'}`}
          style={{ background: RAMP[shadeOf(cell.recorded_db)] }}
        />
        {on && <span className="absolute bottom-0 left-0 w-[3px] bg-ink" style={{ height: `${share * 100}%` }} />}
        <span
          className={`num absolute top-[1px] right-[3px] rounded-[3px] px-[2px] text-[11.5px] leading-4 ${
            on ? 'bg-card/85 text-ink' : 'bg-card text-soft'
          }`}
          aria-hidden="true"
        >
          {on ? figure : 'off'}
        </span>
      </div>
      {typing !== null && (
        <Typing
          label={name}
          text={typing}
          onText={setTyping}
          onFigure={(db) => send(db, newGesture('cell'))}
          className="absolute inset-0 z-10 w-full"
        />
      )}
    </div>
  );
}
