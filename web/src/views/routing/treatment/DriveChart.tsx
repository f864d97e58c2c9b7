/** Drive: its curve, and how far the current sound reaches into it. */
import { useRef } from 'react';
import type { Channel } from '../../../api/calls';
import { percent } from '../../../app/kit/format';
import { rules } from '../../../app/kit/rules';
import { driveFactors } from '../../../player/treatments/drive';
import { type Passing, usePassing } from './passing';
import { Stage } from './Stage';
import { type Of, stageOf } from './treating';
import { type ValueField, Values } from './Values';

const SIZE = 150;
/** Smaller than it is drawn, so that its four values fit below. */
const SHOWN = 124;
const VALUES: ValueField<Of<'drive'>>[] = [
  {
    field: 'drive_db',
    name: 'Drive',
    label: 'Amount of drive',
    hint: 'How far the peaks are pushed into saturation. Bright cymbals alias at high settings.',
    step: 0.1,
    page: 3,
    show: (v) => `${v.toFixed(1)} dB`,
  },
  {
    field: 'asymmetry',
    name: 'Asymmetry',
    label: 'Asymmetry of the drive',
    hint: 'Rounds one half of the wave more than the other, which adds even harmonics.',
    step: 0.01,
    page: 0.1,
    show: (v) => v.toFixed(2),
  },
  {
    field: 'mix',
    name: 'Mix',
    label: 'Mix of the drive',
    hint: 'The share of driven sound; below 100 % the dry sound is mixed in.',
    step: 0.01,
    page: 0.1,
    show: percent,
  },
];

export function DriveChart({ channel }: { channel: Channel }) {
  const { now, on, turn, keep, set, switchTo } = stageOf(channel, 'drive');
  const reach = useRef<SVGPathElement>(null);
  const f = driveFactors(now.drive_db, now.asymmetry, now.level_matched ? 1 : 0, now.mix);
  const made = (x: number) => f.made * (Math.tanh(f.push * x + f.bias) - f.rest) + f.dry * x;
  const path = (from: number, to: number) =>
    Array.from({ length: 65 }, (_, k) => {
      const x = from + ((to - from) * k) / 64;
      const y = Math.max(-1, Math.min(1, made(x)));
      return `${k ? 'L' : 'M'}${((x + 1) / 2) * SIZE} ${((1 - y) / 2) * SIZE}`;
    }).join('');
  usePassing(channel.id, (passing: Passing) => {
    // EQ and compressor come before it; the input level less the gain reduction is accurate enough for the chart.
    const peak = Math.min(1, passing.peak * 10 ** (-passing.reduction / 20));
    reach.current?.setAttribute('d', on && peak > 0.003 ? path(-peak, peak) : '');
  });
  return (
    <Stage name="Drive" on={on} onSwitch={switchTo}>
      <svg
        width={SHOWN}
        height={SHOWN}
        viewBox={`0 0 ${SIZE} ${SIZE}`}
        className="block max-w-full justify-self-center"
        role="img"
        aria-label={`Curve of the drive, ${now.drive_db.toFixed(1)} dB`}
      >
        <path d={`M0 ${SIZE / 2}H${SIZE}M${SIZE / 2} 0V${SIZE}`} stroke="var(--line)" />
        <path d={`M0 ${SIZE}L${SIZE} 0`} stroke="var(--edge)" strokeDasharray="3 3" />
        <path d={path(-1, 1)} fill="none" stroke={on ? 'var(--leaf)' : 'var(--edge)'} strokeWidth={2.2} />
        <path ref={reach} fill="none" stroke="var(--plum)" strokeWidth={4} strokeLinecap="round" opacity={0.75} />
      </svg>
      <div className="grid gap-y-1">
        <Values limits="drive" values={VALUES} now={now} usual={rules().treatments.drive} onTurn={turn} onKeep={keep} />
        <label className="flex items-center gap-1.5 text-tiny text-soft" title="Soft sounds keep their level">
          <input
            type="checkbox"
            checked={now.level_matched}
            onChange={(event) => set({ level_matched: event.target.checked })}
          />
          Match level
        </label>
      </div>
    </Stage>
  );
}
