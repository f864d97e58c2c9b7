/**
 * The compressor: its curve with the knee, the current level on it, gain reduction as a falling bar, and its history.
 */
import { type PointerEvent, useRef, useState } from 'react';
import type { Channel } from '../../../api/calls';
import { gainToDecibels, percent, signed } from '../../../app/kit/format';
import { limitsOf, rules } from '../../../app/kit/rules';
import { reductionDb } from '../../../player/treatments/compressor';
import { newGesture } from '../../../ui/gestures';
import { evenMakeUp } from './equally';
import { type Passing, usePassing } from './passing';
import { Stage } from './Stage';
import { type Of, stageOf } from './treating';
import { type ValueField, Values } from './Values';

const ms = (v: number) => `${v < 10 ? v.toFixed(1) : Math.round(v)} ms`;
const heard = (hz: number) => (hz <= limitsOf('compressor.low_cut_hz').least ? 'all' : `${Math.round(hz)} Hz`);
const VALUES: ValueField<Of<'compressor'>>[] = [
  {
    field: 'threshold_db',
    name: 'Threshold',
    label: 'Threshold of the compressor',
    hint: 'Levels above this are turned down.',
    step: 0.1,
    page: 3,
    show: signed,
  },
  {
    field: 'ratio',
    name: 'Ratio',
    label: 'Ratio of the compressor',
    hint: 'How many dB more at the input give 1 dB more at the output.',
    step: 0.1,
    page: 1,
    show: (v) => `${v.toFixed(1)}:1`,
    ratio: true,
  },
  {
    field: 'attack_ms',
    name: 'Attack',
    label: 'Attack of the compressor',
    hint: 'How fast it turns down; a slow attack lets the stick through.',
    step: 0.1,
    page: 5,
    show: ms,
    ratio: true,
  },
  {
    field: 'release_ms',
    name: 'Release',
    label: 'Release of the compressor',
    hint: 'How fast it lets go; a long release keeps the tail down.',
    step: 1,
    page: 20,
    show: ms,
    ratio: true,
  },
  {
    field: 'knee_db',
    name: 'Knee',
    label: 'Knee of the compressor',
    hint: 'The range in dB around the threshold over which compression sets in.',
    step: 0.5,
    page: 3,
    show: (v) => `${v.toFixed(1)} dB`,
  },
  {
    field: 'make_up_db',
    name: 'Make-up',
    label: 'Make-up of the compressor',
    hint: 'Level added after the gain reduction.',
    step: 0.1,
    page: 3,
    show: signed,
  },
  {
    field: 'mix',
    name: 'Mix',
    label: 'Mix of the compressor',
    hint: 'The share of compressed sound; below 100 % the dry sound is mixed in.',
    step: 0.01,
    page: 0.1,
    show: percent,
  },
  {
    field: 'low_cut_hz',
    name: 'Low cut',
    label: 'Detector low cut of the compressor',
    hint: 'Frequencies below this do not trigger the compressor, so a kick does not turn the cymbals down.',
    step: 1,
    page: 20,
    show: heard,
    ratio: true,
    orNone: true,
  },
];

const FLOOR_DB = -60;
const SIZE = 150;
const PAST_PX = 90;
const WHOLE = SIZE + 24 + PAST_PX;
const MOST_DB = 24;
/** Thirty values a second for four seconds. */
const LOOKS = 120;

export function CompressorChart({ channel }: { channel: Channel }) {
  const { now, on, turn, keep, switchTo } = stageOf(channel, 'compressor');
  const point = useRef<SVGCircleElement>(null);
  const bar = useRef<SVGRectElement>(null);
  const said = useRef<HTMLSpanElement>(null);
  const past = useRef<number[]>([]);
  const line = useRef<SVGPathElement>(null);
  const gesture = useRef('');
  const at = (db: number) => ((db - FLOOR_DB) / -FLOOR_DB) * SIZE;
  const held = (db: number) => reductionDb(db - now.threshold_db, 1 / now.ratio - 1, now.knee_db);
  const out = (db: number) => db - held(db) + now.make_up_db;
  const curve = Array.from({ length: 61 }, (_, k) => {
    const db = FLOOR_DB + k;
    return `${k ? 'L' : 'M'}${at(db).toFixed(1)} ${(SIZE - at(out(db))).toFixed(1)}`;
  }).join('');
  usePassing(channel.id, (passing: Passing) => {
    const db = gainToDecibels(passing.peak);
    const shown = on && db > FLOOR_DB;
    point.current?.setAttribute('opacity', shown ? '1' : '0');
    if (shown) {
      point.current?.setAttribute('cx', at(db).toFixed(1));
      point.current?.setAttribute('cy', (SIZE - at(db - passing.reduction + now.make_up_db)).toFixed(1));
    }
    bar.current?.setAttribute('height', (Math.min(1, passing.reduction / MOST_DB) * SIZE).toFixed(1));
    past.current = [...past.current.slice(1 - LOOKS), passing.reduction];
    const path = past.current.map((r, k) => {
      const left = SIZE + 24 + ((k + LOOKS - past.current.length) / LOOKS) * PAST_PX;
      return `${k ? 'L' : 'M'}${left.toFixed(1)} ${(Math.min(1, r / MOST_DB) * SIZE).toFixed(1)}`;
    });
    line.current?.setAttribute('d', path.join(''));
    const text = passing.reduction > 0.05 ? `−${passing.reduction.toFixed(1)} dB` : '0.0 dB';
    if (said.current && said.current.textContent !== text) said.current.textContent = text;
  });
  const drag = (event: PointerEvent<SVGSVGElement>) => {
    if (!gesture.current) return;
    const box = event.currentTarget.getBoundingClientRect();
    // The chart is drawn smaller where there is less room.
    const x = ((event.clientX - box.left) * WHOLE) / box.width;
    const db = FLOOR_DB + (x / SIZE) * -FLOOR_DB;
    turn({ threshold_db: Number(Math.max(FLOOR_DB, Math.min(0, db)).toFixed(1)) });
  };
  return (
    <Stage
      name="Compressor"
      on={on}
      onSwitch={switchTo}
      says={
        <>
          gain reduction <span ref={said} className="num text-ink" />
        </>
      }
    >
      <svg
        width={WHOLE}
        height={SIZE}
        viewBox={`0 0 ${WHOLE} ${SIZE}`}
        className="block max-w-full justify-self-center cursor-ew-resize touch-none select-none"
        role="img"
        aria-label={`Curve of the compressor: threshold ${now.threshold_db.toFixed(1)} dB, ratio ${now.ratio.toFixed(1)} to 1`}
        onPointerDown={(event) => {
          const box = event.currentTarget.getBoundingClientRect();
          const past = event.clientX - box.left > (SIZE / WHOLE) * box.width;
          if (event.button !== 0 || past) return;
          event.currentTarget.setPointerCapture(event.pointerId);
          gesture.current = newGesture('threshold');
          drag(event);
        }}
        onPointerMove={drag}
        onPointerUp={() => {
          if (gesture.current) keep(gesture.current);
          gesture.current = '';
        }}
      >
        {[0, 1, 2, 3, 4].map((k) => (
          <path
            key={k}
            d={`M${(k * SIZE) / 4} 0V${SIZE}M0 ${(k * SIZE) / 4}H${SIZE}`}
            stroke="var(--line)"
            fill="none"
          />
        ))}
        <path d={`M0 ${SIZE}L${SIZE} 0`} stroke="var(--edge)" strokeDasharray="3 3" />
        <path d={curve} fill="none" stroke={on ? 'var(--leaf)' : 'var(--edge)'} strokeWidth={2.2} />
        <line
          x1={at(now.threshold_db)}
          x2={at(now.threshold_db)}
          y1={0}
          y2={SIZE}
          stroke="var(--ink)"
          strokeDasharray="2 3"
        />
        <circle ref={point} r={5} fill="var(--plum)" opacity={0} />
        <rect x={SIZE + 8} y={0} width={8} height={SIZE} rx={4} fill="var(--sunk)" />
        <rect ref={bar} x={SIZE + 8} y={0} width={8} height={0} rx={4} fill="var(--plum)" />
        <rect x={SIZE + 24} y={0} width={PAST_PX} height={SIZE} fill="var(--sunk)" opacity={0.5} rx={4} />
        <path ref={line} fill="none" stroke="var(--plum)" strokeWidth={1.4} />
      </svg>
      <div className="grid grid-cols-3 gap-x-3.5 gap-y-1.5">
        <Values
          limits="compressor"
          values={VALUES}
          now={now}
          usual={rules().treatments.compressor}
          onTurn={turn}
          onKeep={keep}
        />
        <EvenMakeUp channel={channel} on={on} />
      </div>
    </Stage>
  );
}

/** Finds the make-up gain by measurement. */
function EvenMakeUp({ channel, on }: { channel: Channel; on: boolean }) {
  const [finding, find] = useState(false);
  return (
    <button
      type="button"
      className="link self-end justify-self-start text-left text-tiny leading-tight"
      disabled={!on || finding}
      title="Set make-up so that treatment does not change this channel’s loudness in the chosen groove"
      onClick={async () => {
        find(true);
        await evenMakeUp(channel);
        find(false);
      }}
    >
      {finding ? 'Measuring…' : 'Match loudness'}
    </button>
  );
}
