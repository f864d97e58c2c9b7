/** Drawings of an impulse response: both sides, the decay of each band, and a hall's early reflections. */
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { post, type Space, type SpaceShown } from '../../../api/calls';
import { useKit } from '../../../app/kit/kitStore';

const SETTLED_MS = 120;
const [WIDTH, HEIGHT] = [300, 150];
const FLOOR_DB = -90;

/** The settings at the last release. */
function useSettled(space: Space): Space {
  const [settled, setSettled] = useState(space);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(space), SETTLED_MS);
    return () => clearTimeout(timer);
  }, [space]);
  return settled;
}

export function SpaceCharts({ space }: { space: Space }) {
  const rate_hz = useKit((s) => s.kit?.head.rate_hz ?? 48_000) as 44_100 | 48_000 | 96_000;
  const settled = useSettled(space);
  const { data, error } = useQuery({
    queryKey: ['space', JSON.stringify(settled), rate_hz],
    queryFn: () => post('/api/spaces/shown', {}, { space: settled, rate_hz }),
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
  });
  if (error) return <p className="text-small text-amber">{error.message}</p>;
  if (!data) return <p className="text-small text-faint">Calculating the impulse response…</p>;
  const off = space.on ? '' : 'opacity-45';
  return (
    <div
      className={`grid min-w-0 gap-3 ${off} ${data.room ? 'grid-cols-[minmax(0,1.35fr)_minmax(0,1fr)_minmax(0,0.9fr)]' : 'grid-cols-[minmax(0,1.6fr)_minmax(0,1fr)]'}`}
    >
      <Outline data={data} />
      <Decay data={data} />
      {data.room && <RoomFromAbove room={data.room} />}
    </div>
  );
}

/** Time from left to right; the left side upwards, the right side downwards. */
function Outline({ data }: { data: SpaceShown }) {
  const sides = data.outline_db.length > 1 ? data.outline_db : [data.outline_db[0] ?? [], data.outline_db[0] ?? []];
  const half = (side: number[], sign: 1 | -1) => {
    const points = side.map((db, k) => {
      const x = (k / Math.max(1, side.length - 1)) * WIDTH;
      return `${x.toFixed(1)} ${(HEIGHT / 2 - sign * (Math.max(0, 1 - db / FLOOR_DB) * (HEIGHT / 2 - 4))).toFixed(1)}`;
    });
    return `M0 ${HEIGHT / 2}L${points.join('L')}L${WIDTH} ${HEIGHT / 2}Z`;
  };
  return (
    <Chart
      title="Impulse response"
      says={`${data.seconds.toFixed(2)} s`}
      label={`${data.seconds.toFixed(2)} seconds, the left side above and the right side below`}
    >
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        preserveAspectRatio="none"
        className="h-[132px] w-full"
        aria-hidden="true"
      >
        <path d={half(sides[0] as number[], 1)} fill="var(--v4)" />
        <path d={half(sides[1] as number[], -1)} fill="var(--v3)" />
        <path d={`M0 ${HEIGHT / 2}H${WIDTH}`} stroke="var(--card)" strokeWidth={1.5} />
      </svg>
    </Chart>
  );
}

const bandName = (hz: number) => (hz < 1000 ? `${hz}` : `${hz / 1000}k`);

/** The 60 dB decay time of each octave. */
function Decay({ data }: { data: SpaceShown }) {
  const most = Math.max(0.2, ...data.decay.map((band) => band.seconds ?? 0), ...data.says_s) * 1.1;
  const said = data.decay
    .map(
      (band) =>
        `${bandName(band.hz)} Hz ${band.seconds === null ? 'too short to read' : `${band.seconds.toFixed(2)} s`}`,
    )
    .join(', ');
  return (
    <Chart title="Decay" says="s, by octave" label={said}>
      <div className="flex h-[132px] items-end gap-1" aria-hidden="true">
        {data.decay.map((band, k) => {
          const says = data.says_s[k];
          return (
            <span key={band.hz} className="grid h-full min-w-0 flex-1 grid-rows-[1fr_auto_auto] justify-items-center">
              <span className="relative h-full w-full">
                <span
                  className="absolute inset-x-0 bottom-0 rounded-t-[3px] bg-leaf"
                  style={{ height: `${(100 * (band.seconds ?? 0)) / most}%` }}
                />
                {says !== undefined && (
                  <span
                    className="absolute inset-x-[-1px] h-[2px] bg-ink"
                    style={{ bottom: `calc(${(100 * says) / most}% - 1px)` }}
                  />
                )}
              </span>
              <span className="num text-[11.5px] leading-4">
                {band.seconds === null ? '–' : band.seconds.toFixed(1)}
              </span>
              <span className="num text-[11.5px] leading-3 text-faint">{bandName(band.hz)}</span>
            </span>
          );
        })}
      </div>
    </Chart>
  );
}

/** The room from above: the listener in the middle, and every early reflection where it seems to come from. */
function RoomFromAbove({ room }: { room: NonNullable<SpaceShown['room']> }) {
  const { length_m, breadth_m, source, listener, reflections } = room;
  const near = reflections.filter((r) => Math.hypot(r.before_m, r.right_m) < 1.5 * length_m);
  const away = near.map((r) => Math.max(Math.abs(r.before_m), Math.abs(r.right_m)));
  const far = Math.max(length_m, ...away) * 1.05;
  const first = reflections[0];
  return (
    <Chart
      title="First reflections"
      says={first ? `${first.after_ms.toFixed(1)} ms` : 'none'}
      label={`a room of ${length_m.toFixed(0)} by ${breadth_m.toFixed(0)} metres, ${reflections.length} of them`}
    >
      <svg viewBox={`${-far} ${-far} ${2 * far} ${2 * far}`} className="h-[148px] w-full" aria-hidden="true">
        <rect
          x={-listener.across_m}
          y={-listener.along_m}
          width={breadth_m}
          height={length_m}
          fill="var(--sunk)"
          stroke="var(--edge)"
          strokeWidth={far / 70}
        />
        {near.map((r) => {
          const loud = Math.max(0, Math.min(1, 1 + r.level_db / 40));
          return (
            <circle
              key={`${r.after_ms} ${r.right_m}`}
              cx={r.right_m}
              cy={-r.before_m}
              r={far * (0.012 + 0.03 * loud)}
              fill="var(--v4)"
              opacity={0.25 + 0.7 * loud}
            />
          );
        })}
        <circle r={far * 0.035} fill="var(--ink)" />
        <circle
          cx={source.across_m - listener.across_m}
          cy={source.along_m - listener.along_m}
          r={far * 0.035}
          fill="none"
          stroke="var(--ink)"
          strokeWidth={far / 60}
        />
      </svg>
    </Chart>
  );
}

function Chart({
  title,
  says,
  label,
  children,
}: {
  title: string;
  says: string;
  label?: string;
  children: React.ReactNode;
}) {
  return (
    <figure
      className="grid min-w-0 grid-cols-[minmax(0,1fr)] content-start gap-0.5"
      aria-label={label ? `${title}: ${label}` : title}
    >
      <figcaption className="flex justify-between gap-2 text-tiny">
        <span className="font-semibold whitespace-nowrap">{title}</span>
        <span className="num truncate text-faint">{says}</span>
      </figcaption>
      {children}
    </figure>
  );
}
