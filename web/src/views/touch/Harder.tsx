/** Tracking: how velocity changes level, brightness and attack, drawn as the core computes it. */
import type { Articulation, Change, Piece } from '../../api/calls';
import { decibels } from '../../app/kit/format';
import { useKit } from '../../app/kit/kitStore';
import { useStrikes } from '../../app/playing/strikes';
import { lineThrough } from '../../ui/lineThrough';
import { Slider } from '../../ui/Slider';

/** Levels further than this below the loudest are off the chart. */
const WEAKEST_DB = 48;

/** With `only`, this articulation has its own setting; otherwise all of the piece share one. */
export function Harder({ piece, articulation, only }: { piece: Piece; articulation: Articulation; only: boolean }) {
  const edit = useKit((s) => s.edit);
  const { tracking, harder } = piece;
  const set = (change: Change<'set_tracking'>, gesture?: string) =>
    void edit({ kind: 'set_tracking', piece: piece.id, ...change }, gesture);
  const follow = (whole: boolean) =>
    only ? void edit({ kind: 'follow_strength', articulation: articulation.id, whole }) : set({ whole });
  const whole = articulation.follows_whole;
  const most = 100 * articulation.most_level;
  const loudest = Math.max(...articulation.plays_db.map((db) => db ?? Number.NEGATIVE_INFINITY));
  const fades = tracking.attack_soft_ms > 0 || tracking.attack_hard_ms > 0;
  return (
    <section className="card grid gap-1" aria-label="Velocity also changes">
      <h2>Velocity also changes</h2>
      <p className="text-tiny text-soft">
        What {piece.name} · {articulation.name} plays from soft to hard
      </p>
      <Row
        name="level"
        points={articulation.plays_db.map((db) => (db === null || db < loudest - WEAKEST_DB ? null : db - loudest))}
        from={-WEAKEST_DB}
        to={3}
        piece={piece.id}
        said={(v) => `${decibels(v)} dB`}
      />
      <Slider
        label="Level by velocity"
        hint="How far level follows velocity: 100 % is natural, 0 % plays every strike of a layer at its recorded level."
        value={Math.min(most, Math.round(tracking.level * 100))}
        min={0}
        max={most}
        step={1}
        reset={100}
        show={(v) => `${v} %`}
        onChange={(percent, gesture) => set({ level: percent / 100 }, gesture)}
      />
      <span
        className="flex flex-wrap items-baseline gap-1"
        role="group"
        aria-label={`Where the level of ${only ? articulation.name : piece.name} follows velocity`}
      >
        <button
          type="button"
          className="chip px-2 py-0.5"
          title="Layers keep their recorded levels; velocity moves the level between them."
          aria-pressed={!whole}
          onClick={() => follow(false)}
        >
          inside layers
        </button>
        <button
          type="button"
          className="chip px-2 py-0.5"
          title="Velocity alone decides the level; for takes recorded at one loudness."
          aria-pressed={whole}
          onClick={() => follow(true)}
        >
          whole range
        </button>
        {whole !== tracking.whole && <span className="text-tiny text-soft">this articulation only</span>}
      </span>
      <Row
        name="brightness"
        points={harder.cutoff_hz.map((hz) => Math.log2(hz))}
        from={Math.log2(500)}
        to={Math.log2(16_500)}
        piece={piece.id}
        flat={tracking.brightness === 0}
        said={(v) => `${(2 ** v / 1000).toFixed(1)} kHz`}
      />
      <Slider
        label="Brightness by velocity"
        hint="How many octaves darker the softest strike is than the hardest."
        value={tracking.brightness}
        min={0}
        max={5}
        step={0.1}
        page={0.5}
        reset={0}
        show={(v) => `${v.toFixed(1)} oct`}
        onChange={(brightness, gesture) => set({ brightness }, gesture)}
      />
      <Row
        name="attack"
        points={harder.attack_ms}
        from={60}
        to={0}
        piece={piece.id}
        flat={!fades}
        said={(v) => `${v.toFixed(1)} ms`}
      />
      <span className="grid grid-cols-[36px_1fr] items-center gap-y-1 text-tiny text-soft">
        soft
        <Slider
          label="Attack of the softest strikes"
          hint="A fade-in that takes the edge off soft strikes."
          value={tracking.attack_soft_ms}
          min={0}
          max={60}
          step={0.5}
          page={5}
          reset={0}
          show={(v) => `${v.toFixed(1)} ms`}
          onChange={(attack_soft_ms, gesture) => set({ attack_soft_ms }, gesture)}
        />
        hard
        <Slider
          label="Attack of the hardest strikes"
          hint="A fade-in of the hardest strikes; 0 keeps the full attack."
          value={tracking.attack_hard_ms}
          min={0}
          max={60}
          step={0.5}
          page={5}
          reset={0}
          show={(v) => `${v.toFixed(1)} ms`}
          onChange={(attack_hard_ms, gesture) => set({ attack_hard_ms }, gesture)}
        />
      </span>
    </section>
  );
}

const WIDTH = 120;
const HEIGHT = 26;

/** A small curve over velocity, soft at the left, with the last strike on it. */
function Row(props: {
  name: string;
  /** By velocity from 1; null where it is silent. */
  points: (number | null)[];
  from: number;
  to: number;
  piece: string;
  flat?: boolean;
  said: (value: number) => string;
}) {
  const { name, points, from, to, flat, said } = props;
  const x = (k: number) => 2 + (k / 126) * (WIDTH - 4);
  const y = (v: number) => HEIGHT - 3 - Math.max(0, Math.min(1, (v - from) / (to - from))) * (HEIGHT - 6);
  const d = lineThrough(points, x, y);
  const sounding = points.filter((v) => v !== null);
  const soft = sounding[0] ?? from;
  const hard = sounding[sounding.length - 1] ?? from;
  return (
    <span className="mt-1 flex items-center justify-between gap-2 text-small">
      {name}
      <svg
        width={WIDTH}
        height={HEIGHT}
        className="rounded-md bg-sunk"
        role="img"
        aria-label={`${name}: ${said(soft)} at the softest, ${said(hard)} at the hardest`}
      >
        <title>{`${said(soft)} at the softest, ${said(hard)} at the hardest`}</title>
        <path d={d} fill="none" stroke={flat ? 'var(--edge)' : 'var(--v5)'} strokeWidth={1.6} />
        <Now piece={props.piece} x={x} y={(v) => y(points[v] ?? from)} />
      </svg>
    </span>
  );
}

/** The last strike of a piece on one of its curves, which are indexed by velocity less one. */
function Now({ piece, x, y }: { piece: string; x: (v: number) => number; y: (v: number) => number }) {
  const velocity = useStrikes((s) => (s.last?.pieceId === piece ? s.last.velocity : 0));
  return velocity ? <circle cx={x(velocity - 1)} cy={y(velocity - 1)} r={3} fill="var(--plum)" /> : null;
}
