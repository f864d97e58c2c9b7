/** The levels by velocity of the present piece and of the incoming piece before and after matching. */
import type { BringShown } from '../../api/calls';
import { decibels } from '../kit/format';

const [WIDTH, HEIGHT, EDGE] = [400, 76, 5];
const STEP_DB = 12;

export function Climbs({ shown, ours }: { shown: BringShown; ours: string }) {
  const { theirs_climb: theirs, its_climb: its, gain_db: gain, name } = shown;
  const levels = (climb: readonly (readonly number[])[]) => climb.map((point) => point[1] as number);
  const all = [...levels(theirs), ...levels(its), ...levels(its).map((db) => db + gain)];
  if (!theirs.length || !its.length) return null;
  const top = Math.max(...all);
  const bottom = Math.min(...all, top - STEP_DB);
  const x = (velocity: number) => EDGE + ((velocity - 1) / 126) * (WIDTH - 2 * EDGE);
  const y = (db: number) => EDGE + ((top - db) / (top - bottom)) * (HEIGHT - 2 * EDGE);
  const line = (climb: readonly (readonly number[])[], by = 0) =>
    climb
      .map(([v, db], place) => `${place ? 'L' : 'M'}${x(v as number).toFixed(1)} ${y((db as number) + by).toFixed(1)}`)
      .join('');
  const first = Math.floor(top / STEP_DB) * STEP_DB;
  const rules = Array.from({ length: 8 }, (_, k) => first - k * STEP_DB).filter((db) => db > bottom && db < top);
  const hardest = (climb: readonly (readonly number[])[]) => decibels(climb[climb.length - 1]?.[1] as number);
  return (
    <figure
      className="m-0"
      aria-label={`Played from soft to hard, ${ours} reaches ${hardest(theirs)} dB, ${name} to ${hardest(its)} dB before matching`}
    >
      <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className="block w-full" aria-hidden="true">
        {rules.map((db) => (
          <line key={db} x1={0} x2={WIDTH} y1={y(db)} y2={y(db)} stroke="var(--line)" />
        ))}
        <path d={line(theirs)} fill="none" stroke="var(--ink)" strokeWidth={1.8} />
        {gain !== 0 && <path d={line(its)} fill="none" stroke="var(--faint)" strokeWidth={1.6} strokeDasharray="4 4" />}
        <path d={line(its, gain)} fill="none" stroke="var(--zest)" strokeWidth={1.8} />
      </svg>
      <figcaption className="flex flex-wrap gap-x-4 text-tiny text-soft">
        <span>
          <i className="mr-1.5 inline-block h-[2px] w-4 bg-ink align-middle" />
          {ours}
        </span>
        <span>
          <i className="mr-1.5 inline-block h-[2px] w-4 bg-zest align-middle" />
          {name} after matching
        </span>
        {gain !== 0 && (
          <span>
            <i className="mr-1.5 inline-block w-4 border-t-2 border-dashed border-faint align-middle" />
            before matching
          </span>
        )}
      </figcaption>
    </figure>
  );
}
