/**
 * Hearing an articulation at any velocity: its drawing, velocities to press from soft to hard, rolls and soft-to-hard runs, one microphone
 * or all.
 */

import { type KeyboardEvent, memo, type PointerEvent, useEffect, useRef, useState } from 'react';
import type { Articulation, KitState, Piece } from '../../api/calls';
import { useKit } from '../../app/kit/kitStore';
import { useHitOf } from '../../app/playing/strikes';
import { climb, roll } from '../../player/rolls';
import { nudged } from '../../ui/nudging';
import { Pick } from '../../ui/Pick';
import { Skin, type SkinProps } from '../../ui/Skin';
import { useSelected } from './selection';

const EVERY_MS = 95;
const RATES = [3, 5, 8, 12, 16];

export const Strike = memo(function Strike({ piece, articulation }: { piece: Piece; articulation: Articulation }) {
  const mics = useKit((s) => (s.kit as KitState).head.mics);
  const player = useKit((s) => s.player);
  const { takes } = useSelected(articulation);
  const [over, setOver] = useState<number | null>(null);
  const [velocity, setVelocity] = useState(96);
  const [repeats, setRepeats] = useState(true);
  const [only, setOnly] = useState(false);
  const [mic, setMic] = useState('');
  const [rate, setRate] = useState(8);
  const [going, setGoing] = useState<'roll' | 'climb' | null>(null);
  const stop = useRef(() => {});
  const now = useRef({ velocity, rate });
  now.current = { velocity, rate };

  useEffect(() => {
    if (player) Object.assign(player.listening, { repeats, only: only ? takes : [], mic: mic || null });
  }, [player, repeats, only, takes, mic]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another articulation stops rolls and runs
  useEffect(() => {
    setGoing(null);
    return () => {
      stop.current();
      if (player) Object.assign(player.listening, { repeats: true, only: [], mic: null });
    };
  }, [player, articulation.id]);
  useEffect(() => {
    if (mic && !piece.heard_by.includes(mic)) setMic('');
  }, [mic, piece.heard_by]);

  const play = (at: number, source = 'skin') => {
    setVelocity(at);
    player?.strikeArticulation(source, articulation.id, at);
  };
  const start = (what: 'roll' | 'climb') => {
    stop.current();
    if (going === what || !player) return setGoing(null);
    setGoing(what);
    stop.current =
      what === 'roll'
        ? roll(
            player,
            'skin',
            articulation.id,
            () => now.current.velocity,
            () => now.current.rate,
          )
        : climb(player, 'skin', articulation.id, 32, 5, () => setGoing(null));
  };
  const layer = articulation.layers.findIndex((l) => over !== null && l.low <= over && over <= l.high);
  return (
    <section className="card flex flex-col" aria-label="Strike">
      <div className="flex items-baseline justify-between">
        <h2>Strike</h2>
        <span className={`num text-faint ${over === null ? 'max-[1180px]:hidden' : ''}`} data-testid="over">
          {over === null ? 'rim soft, centre hard' : `${over} · ${layer < 0 ? 'no layer' : `layer ${layer + 1}`}`}
        </span>
      </div>
      <div className="mt-1 grid justify-center [&>svg]:h-auto [&>svg]:max-w-full max-[1180px]:[&>svg]:w-[132px]">
        <StruckSkin
          articulation={articulation}
          size={178}
          onStrike={(at) => play(at)}
          onOver={setOver}
          label={`Strike ${piece.name} ${articulation.name}`}
        />
      </div>
      <Strip velocity={velocity} over={over} rolling={going === 'roll'} onPlay={play} onAim={setVelocity} />
      <div className="mt-2 flex flex-wrap items-center gap-1 [&_button]:px-1.5 [&_button]:py-0.5 [&_button]:text-tiny">
        <button
          type="button"
          className="btn"
          title="Repeat strikes at this velocity, to hear the round robin"
          aria-pressed={going === 'roll'}
          onClick={() => start('roll')}
        >
          {going === 'roll' ? 'Stop' : 'Roll'}
        </button>
        <Pick
          label="Strikes per second"
          value={rate}
          options={RATES.map((value) => ({ value, name: `${value} / s` }))}
          onChange={setRate}
          className="max-w-[66px]"
        />
        <button
          type="button"
          className="btn"
          title="Play from velocity 1 to 127, to hear the layers"
          aria-pressed={going === 'climb'}
          onClick={() => start('climb')}
        >
          {going === 'climb' ? 'Stop' : 'Play soft to hard'}
        </button>
        <button
          type="button"
          className="btn"
          role="switch"
          aria-checked={only}
          disabled={!takes.length && !only}
          title="Strike only the takes selected in the grid, one after another"
          onClick={() => setOnly(!only)}
        >
          {only ? `Only ${takes.length}` : 'Only these'}
        </button>
        <button
          type="button"
          className="btn"
          role="switch"
          aria-checked={repeats}
          title="Off: the same take plays every time"
          onClick={() => setRepeats(!repeats)}
        >
          {repeats ? 'Round robin on' : 'Round robin off'}
        </button>
        <Pick
          label="Microphone"
          value={mic}
          options={[
            { value: '', name: 'All microphones' },
            ...mics.filter((m) => piece.heard_by.includes(m.id)).map((m) => ({ value: m.id, name: m.name })),
          ]}
          onChange={setMic}
          className="max-w-[124px]"
        />
      </div>
    </section>
  );
});

/** The drumhead with the last strike outlined. */
const StruckSkin = (props: SkinProps) => <Skin {...props} hit={useHitOf(props.articulation.id)} />;

/** Velocity from left to right: press or drag along it to hear it. */
function Strip(props: {
  velocity: number;
  over: number | null;
  rolling: boolean;
  onPlay: (velocity: number) => void;
  onAim: (velocity: number) => void;
}) {
  const last = useRef({ at: 0, velocity: 0 });
  const velocityAt = (event: PointerEvent<HTMLDivElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    return Math.max(1, Math.min(127, Math.round(((event.clientX - box.left) / box.width) * 127)));
  };
  const aim = (velocity: number, first: boolean) => {
    if (props.rolling) return props.onAim(velocity);
    const at = performance.now();
    if (!first && (at - last.current.at < EVERY_MS || velocity === last.current.velocity)) return;
    last.current = { at, velocity };
    props.onPlay(velocity);
  };
  const key = (event: KeyboardEvent) => {
    const to = nudged(event.key, props.velocity, { least: 1, most: 127, page: 8 });
    if (to === null) return;
    event.preventDefault();
    aim(to, true);
  };
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-label="Velocity of the strike"
      aria-valuemin={1}
      aria-valuemax={127}
      aria-valuenow={props.velocity}
      className="relative mt-1.5 h-[18px] shrink-0 cursor-ew-resize touch-none rounded-md border border-line"
      style={{ background: 'linear-gradient(90deg, var(--v1), var(--v2), var(--v3), var(--v4), var(--v5), var(--v6))' }}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        aim(velocityAt(event), true);
      }}
      onPointerMove={(event) => event.currentTarget.hasPointerCapture(event.pointerId) && aim(velocityAt(event), false)}
      onKeyDown={key}
    >
      <i
        className="absolute -top-[3px] h-[22px] w-[3px] -translate-x-1/2 rounded bg-plum"
        style={{ left: `${(props.velocity / 127) * 100}%` }}
      />
      <span className="num absolute top-px right-1.5 text-[11.5px] text-white mix-blend-normal [text-shadow:0_0_3px_#000a]">
        {props.velocity}
      </span>
    </div>
  );
}
