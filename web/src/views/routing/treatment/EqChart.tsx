/**
 * The EQ: numbered points on its curve, over the spectra of the input (filled) and output (line). Pressing the line
 * adds a band; a point is dragged or nudged, and its Q is turned by the wheel or Page keys.
 */
import { type KeyboardEvent, type PointerEvent, useEffect, useMemo, useRef, useState } from 'react';
import type { Channel, KitState } from '../../../api/calls';
import { signed } from '../../../app/kit/format';
import { useKit } from '../../../app/kit/kitStore';
import { limitsOf, rules } from '../../../app/kit/rules';
import { newGesture } from '../../../ui/gestures';
import { BandValues, hertz } from './BandValues';
import { added, kindName, levelOf, moved, narrowed, nudged } from './bands';
import { BOTTOM, HEIGHT, LEFT, POINTS, RIGHT, scaleOf, TOP } from './eqScale';
import { usePassing } from './passing';
import { responseDb } from './response';
import { Stage } from './Stage';
import { drawSpectrum } from './spectrum';
import { type EqBand, stageOf } from './treating';

/** Repeated keys or wheel turns within this time are one move, and one undo. */
const GOES_ON_MS = 500;
const SHOWN_HZ = [50, 100, 200, 500, 1000, 2000, 5000, 10_000];
const FEW_HZ = [50, 200, 1000, 5000];

/** The number of the pressed band, if any. */
function bandUnder(target: EventTarget | null): number | null {
  const found = (target as Element | null)?.closest('[data-band]')?.getAttribute('data-band');
  return found ? Number(found) : null;
}

/** An id for each move, unchanged while it goes on. */
function useMoves() {
  const last = useRef({ gesture: '', at: Number.NEGATIVE_INFINITY });
  return () => {
    const at = performance.now();
    const { gesture, at: before } = last.current;
    last.current = { gesture: at - before < GOES_ON_MS ? gesture : newGesture('eq'), at };
    return last.current.gesture;
  };
}

function useWidth() {
  const frame = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(320);
  useEffect(() => {
    if (!frame.current) return;
    const watch = new ResizeObserver(([entry]) => setWidth(Math.max(160, Math.floor(entry?.contentRect.width ?? 320))));
    watch.observe(frame.current);
    return () => watch.disconnect();
  }, []);
  return { frame, width };
}

export function EqChart({ channel }: { channel: Channel }) {
  const { rate_hz: rate } = (useKit((s) => s.kit) as KitState).head;
  const { now, on, turn, keep, set, switchTo } = stageOf(channel, 'eq');
  const { bands } = now;
  const [chosen, setChosen] = useState(0);
  const canvas = useRef<HTMLCanvasElement>(null);
  const { frame, width } = useWidth();
  const scale = useMemo(() => scaleOf(width), [width]);
  const { x, y, hzAt } = scale;
  const curve = useMemo(
    () =>
      Array.from({ length: POINTS + 1 }, (_, k) => {
        const hz = hzAt(k);
        return `${k ? 'L' : 'M'}${x(hz).toFixed(1)} ${y(responseDb(bands, hz, rate)).toFixed(1)}`;
      }).join(''),
    [bands, rate, x, y, hzAt],
  );
  usePassing(channel.id, (passing) => drawSpectrum(canvas.current, passing, scale));

  const dragged = useRef<{ number: number; gesture: string } | null>(null);
  const move = useMoves();
  const at = Math.min(chosen, bands.length - 1);
  const band = bands[at];
  const withBand = (number: number, to: EqBand) => ({ bands: bands.map((each, k) => (k === number ? to : each)) });
  const place = (event: PointerEvent) => {
    const box = event.currentTarget.getBoundingClientRect();
    return scale.at(event.clientX - box.left, event.clientY - box.top);
  };
  const down = (event: PointerEvent<SVGSVGElement>) => {
    if (event.button !== 0) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    const number = bandUnder(event.target) ?? bands.length;
    if (number === bands.length) {
      const more = added(bands, place(event));
      if (!more) {
        useKit.getState().say(`An EQ has ${rules().most_bands} bands; remove one first.`);
        return;
      }
      turn({ bands: [...bands, more] });
    }
    dragged.current = { number, gesture: newGesture('eq') };
    setChosen(number);
  };
  const drag = (event: PointerEvent) => {
    const which = dragged.current && bands[dragged.current.number];
    if (dragged.current && which) turn(withBand(dragged.current.number, moved(which, place(event))));
  };
  const up = () => {
    if (dragged.current) keep(dragged.current.gesture);
    dragged.current = null;
  };
  const remove = (number: number) => {
    set({ bands: bands.filter((_, k) => k !== number) });
    setChosen(Math.max(0, number - 1));
  };
  const key = (event: KeyboardEvent, number: number) => {
    const to = nudged(bands[number] as EqBand, event.key);
    if (to) set(withBand(number, to), move());
    else if (event.key === 'Delete' || event.key === 'Backspace') remove(number);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  // Turning the wheel on a Q must not scroll the page, which only a non-passive listener can prevent.
  useEffect(() => {
    const node = frame.current;
    if (!node) return;
    const turned = (event: WheelEvent) => {
      const number = bandUnder(event.target) ?? at;
      const which = bands[number];
      if (!which) return;
      event.preventDefault();
      set(withBand(number, narrowed(which, event.deltaY < 0 ? 1 : -1)), move());
    };
    node.addEventListener('wheel', turned, { passive: false });
    return () => node.removeEventListener('wheel', turned);
  });
  const more = added(bands);
  const add =
    more &&
    (() => {
      set({ bands: [...bands, more] });
      setChosen(bands.length);
    });
  const hz = limitsOf('eq_band.hz');
  return (
    <Stage
      name="EQ"
      on={on}
      onSwitch={switchTo}
      says={<span className="max-[1180px]:hidden">press to add · wheel: Q</span>}
    >
      <div ref={frame} className="relative" style={{ height: HEIGHT }}>
        <canvas ref={canvas} className="pointer-events-none absolute inset-0" />
        <svg
          width={width}
          height={HEIGHT}
          role="group"
          aria-label="EQ curve"
          data-testid="eq"
          className="relative block cursor-crosshair touch-none select-none"
          onPointerDown={down}
          onPointerMove={drag}
          onPointerUp={up}
          onPointerCancel={up}
          onDoubleClick={(event) => {
            const number = bandUnder(event.target);
            if (number !== null) remove(number);
          }}
        >
          {(width < 330 ? FEW_HZ : SHOWN_HZ).map((mark) => (
            <g key={mark}>
              <line x1={x(mark)} x2={x(mark)} y1={TOP} y2={HEIGHT - BOTTOM} stroke="var(--line)" />
              <text x={x(mark)} y={HEIGHT - 4} textAnchor="middle" className="num" fontSize={11.5} fill="var(--faint)">
                {mark < 1000 ? mark : `${mark / 1000}k`}
              </text>
            </g>
          ))}
          {[-12, -6, 0, 6, 12].map((db) => (
            <g key={db}>
              <line x1={LEFT} x2={width - RIGHT} y1={y(db)} y2={y(db)} stroke={db ? 'var(--line)' : 'var(--edge)'} />
              <text x={LEFT - 4} y={y(db) + 4} textAnchor="end" className="num" fontSize={11.5} fill="var(--faint)">
                {db < 0 ? `−${-db}` : db}
              </text>
            </g>
          ))}
          <path d={curve} fill="none" stroke={on ? 'var(--leaf)' : 'var(--edge)'} strokeWidth={2} />
          {bands.map((each, number) => {
            const level = levelOf(each);
            return (
              <g
                key={number}
                transform={`translate(${x(each.hz)} ${y(level)})`}
                data-band={number}
                role="slider"
                tabIndex={0}
                aria-label={`Band ${number + 1}, ${kindName(each.kind)}`}
                aria-valuemin={hz.least}
                aria-valuemax={hz.most}
                aria-valuenow={each.hz}
                aria-valuetext={`${hertz(each.hz)}, ${signed(level)} dB${each.kind === 'peak' ? `, Q ${each.q.toFixed(1)}` : ''}`}
                className="cursor-move"
                onFocus={() => setChosen(number)}
                onKeyDown={(event) => key(event, number)}
              >
                <circle r={12} fill="transparent" />
                <circle
                  r={8}
                  fill="var(--card)"
                  stroke={number === at ? 'var(--ink)' : 'var(--leaf)'}
                  strokeWidth={number === at ? 2.4 : 1.8}
                />
                <text textAnchor="middle" y={4} className="num pointer-events-none" fontSize={11.5} fill="var(--ink)">
                  {number + 1}
                </text>
              </g>
            );
          })}
        </svg>
      </div>
      {band ? (
        <BandValues
          band={band}
          number={at + 1}
          onTurn={(part) => turn(withBand(at, { ...band, ...part }))}
          onKeep={keep}
          onSet={(part) => set(withBand(at, { ...band, ...part }))}
          onAdd={add}
          onRemove={() => remove(at)}
        />
      ) : (
        <span className="flex items-center gap-2 text-tiny text-soft">
          <button type="button" className="btn px-2 py-0" onClick={add ?? undefined}>
            Add a band
          </button>
          or press the chart.
        </span>
      )}
    </Stage>
  );
}
