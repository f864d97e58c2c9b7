/** Small pictures of a channel's treatments: which are on, and roughly how. */
import type { Channel } from '../../../api/calls';
import { reductionDb } from '../../../player/treatments/compressor';
import { driveFactors } from '../../../player/treatments/drive';
import { responseDb } from './response';
import { of } from './treating';

const [WIDTH, HEIGHT] = [26, 16];

const path = (points: [number, number][]) =>
  points
    .map(([x, y], k) => `${k ? 'L' : 'M'}${(x * WIDTH).toFixed(1)} ${(1 + (1 - y) * (HEIGHT - 2)).toFixed(1)}`)
    .join('');
const along = (many: number, at: (share: number) => number): [number, number][] =>
  Array.from({ length: many + 1 }, (_, k) => [k / many, Math.max(0, Math.min(1, at(k / many)))]);

export function Glyphs({ channel, rate }: { channel: Channel; rate: number }) {
  const [eq, compressor, drive] = [of(channel, 'eq'), of(channel, 'compressor'), of(channel, 'drive')];
  const heard = (treatment: { on: boolean } | null) => channel.treated && treatment?.on === true;
  const factors = drive && driveFactors(drive.drive_db, drive.asymmetry, drive.level_matched ? 1 : 0, drive.mix);
  const drawn: [string, boolean, [number, number][]][] = [
    ['EQ', heard(eq), along(24, (share) => 0.5 + (eq ? responseDb(eq.bands, 20 * 1000 ** share, rate) / 36 : 0))],
    [
      'compressor',
      heard(compressor),
      along(12, (share) => {
        if (!compressor) return share;
        const db = -60 + 60 * share;
        return share - reductionDb(db - compressor.threshold_db, 1 / compressor.ratio - 1, compressor.knee_db) / 60;
      }),
    ],
    [
      'drive',
      heard(drive),
      along(12, (share) => {
        const x = 2 * share - 1;
        return factors
          ? 0.5 + (factors.made * (Math.tanh(factors.push * x + factors.bias) - factors.rest) + factors.dry * x) / 2
          : share;
      }),
    ],
  ];
  const names = drawn.filter(([, on]) => on).map(([name]) => name);
  return (
    <span className="flex items-center gap-1.5">
      <span className="sr-only">{names.length ? `, treated by ${names.join(', ')}` : ', untreated'}</span>
      {drawn.map(([name, on, points]) => (
        <svg key={name} width={WIDTH} height={HEIGHT} aria-hidden="true">
          <path d={path(points)} fill="none" stroke={on ? 'var(--leaf)' : 'var(--edge)'} strokeWidth={on ? 1.8 : 1.2} />
        </svg>
      ))}
    </span>
  );
}
