/**
 * A slider that can be dragged, nudged (arrows, Page keys, Home, End), typed into and reset by a double click. It
 * reports while it moves, under one gesture, so that one undo takes the whole move back.
 */

import { type KeyboardEvent, type PointerEvent, useRef, useState } from 'react';
import { newGesture } from './gestures';
import { useHeld } from './held';
import { nudged } from './nudging';
import { beginsFigure, Typing } from './Typing';

export interface SliderProps {
  label: string;
  /** A label drawn over the track together with the value, where there is no room beside it. */
  name?: string;
  /** What it does, in a sentence, shown on hover. */
  hint?: string;
  value: number;
  min: number;
  max: number;
  step: number;
  page?: number;
  reset: number;
  show: (value: number) => string;
  onChange: (value: number, gesture: string) => void;
  /** The position of a value on the track, 0 to 1, if that is not linear. */
  place?: { to: (value: number) => number; from: (place: number) => number };
  width?: number | string;
  meter?: (node: HTMLElement | null) => void;
  tone?: 'plain' | 'pan';
  /** Report only on release, for changes that take time to compute. */
  late?: boolean;
  /** Called on every move of a slider that reports late, for what can be heard meanwhile. */
  onTurn?: (value: number) => void;
}

export function Slider(props: SliderProps) {
  const { label, value, min, max, step, reset, show, onChange, tone = 'plain' } = props;
  const page = props.page ?? step * 10;
  const { held, hold, grip, letGo: drop } = useHeld<number>(value);
  const [typing, setTyping] = useState<string | null>(null);
  const gesture = useRef('');
  const dragged = useRef(false);
  const track = useRef<HTMLDivElement>(null);
  const to = props.place?.to ?? ((v: number) => (v - min) / (max - min));
  const from = props.place?.from ?? ((p: number) => min + p * (max - min));
  const shown = held ?? value;
  const clamp = (v: number) => Math.max(min, Math.min(max, Math.round(v / step) * step));

  const move = (v: number) => {
    const next = Number(clamp(v).toFixed(4));
    hold(next);
    if (!props.late || !dragged.current) onChange(next, gesture.current);
    else props.onTurn?.(next);
  };
  const nudge = (v: number) => {
    gesture.current = newGesture(label);
    move(v);
  };
  const letGo = () => {
    if (props.late && dragged.current && held !== null) onChange(held, gesture.current);
    dragged.current = false;
    drop();
  };
  const drag = (event: PointerEvent) => {
    const box = track.current?.getBoundingClientRect();
    if (box) move(from(Math.max(0, Math.min(1, (event.clientX - box.left) / box.width))));
  };
  const key = (event: KeyboardEvent) => {
    const next = nudged(event.key, shown, { least: min, most: max, step, page });
    if (next !== null) {
      event.preventDefault();
      event.stopPropagation();
      nudge(next);
    } else if (beginsFigure(event.key) && !event.ctrlKey && !event.altKey && !event.metaKey) {
      event.preventDefault();
      event.stopPropagation();
      setTyping(event.key);
    }
  };
  const place = Math.max(0, Math.min(1, to(shown)));
  const zero = Math.max(0, Math.min(1, to(tone === 'pan' ? 0 : min)));
  return (
    <span className="relative inline-flex items-center gap-2" style={{ width: props.width ?? '100%' }}>
      <div
        ref={track}
        role="slider"
        tabIndex={0}
        aria-label={label}
        title={props.hint}
        aria-valuemin={min}
        aria-valuemax={max}
        aria-valuenow={shown}
        aria-valuetext={show(shown)}
        className={`relative grow cursor-ew-resize touch-none ${props.name ? 'h-6' : 'h-[18px]'}`}
        onPointerDown={(event) => {
          if (event.button !== 0) return;
          event.currentTarget.setPointerCapture(event.pointerId);
          gesture.current = newGesture(label);
          dragged.current = true;
          grip();
          drag(event);
        }}
        onPointerMove={(event) => dragged.current && drag(event)}
        onPointerUp={letGo}
        onPointerCancel={letGo}
        onDoubleClick={() => nudge(reset)}
        onKeyDown={key}
      >
        {props.name && (
          <span className="flex justify-between gap-1 text-tiny leading-4 whitespace-nowrap" aria-hidden="true">
            <span className="truncate text-soft" title={props.hint ?? props.label}>
              {props.name}
            </span>
            <span className="num">{show(shown)}</span>
          </span>
        )}
        <div
          className={`absolute inset-x-0 overflow-hidden rounded-full bg-sunk ${
            props.name ? 'bottom-[1px] h-1' : props.meter ? 'top-[3px] h-[12px]' : 'top-[6px] h-[6px]'
          }`}
        >
          {props.meter ? (
            <div ref={props.meter} className="passing relative h-full w-full">
              <div className="meter h-full w-full" />
              <i className="enters" />
              <i className="held" />
              <i className="back" />
            </div>
          ) : (
            <div
              className="absolute inset-y-0"
              style={{
                left: `${Math.min(zero, place) * 100}%`,
                width: `${Math.abs(place - zero) * 100}%`,
                background: 'var(--v3)',
              }}
            />
          )}
        </div>
        <div
          className={`absolute w-[7px] -translate-x-1/2 rounded-[3px] bg-ink ${props.name ? '-bottom-[1px] h-2' : 'top-0 h-[18px]'}`}
          style={{ left: `${place * 100}%` }}
        />
      </div>
      {typing !== null ? (
        <Typing label={label} text={typing} onText={setTyping} onFigure={nudge} className="w-[58px]" />
      ) : props.name ? null : (
        <button
          type="button"
          tabIndex={-1}
          title="Type a value"
          className="num min-w-[46px] text-right text-soft"
          onClick={() => setTyping(String(Number(shown.toFixed(2))))}
        >
          {show(shown)}
        </button>
      )}
    </span>
  );
}
