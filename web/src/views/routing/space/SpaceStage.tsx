/** A bus's reverb or echo: its kind, its settings, and drawings of its impulse response. */
import { useRef } from 'react';
import type { Channel, Space } from '../../../api/calls';
import { percent } from '../../../app/kit/format';
import { rules } from '../../../app/kit/rules';
import { ShelfMenu } from '../../../app/shelf/ShelfMenu';
import { Pick } from '../../../ui/Pick';
import { Stage } from '../treatment/Stage';
import { type ValueField, Values } from '../treatment/Values';
import { SpaceCharts } from './SpaceCharts';
import { BEATS, bringResponse, type SpaceOf, setSpace, spaceOf } from './spacing';

const seconds = (v: number) => `${v.toFixed(v < 1 ? 2 : 1)} s`;
const ms = (v: number) => `${Math.round(v)} ms`;

const HALL: ValueField<SpaceOf<'hall'>>[] = [
  {
    field: 'length_s',
    name: 'Length',
    label: 'Length of the hall',
    hint: 'The time in which the lows fall by 60 dB.',
    step: 0.05,
    page: 0.5,
    show: seconds,
    ratio: true,
  },
  {
    field: 'size_m',
    name: 'Size',
    label: 'Size of the hall',
    hint: 'The length of the room: larger rooms have later first reflections.',
    step: 0.5,
    page: 5,
    show: (v) => `${v} m`,
    ratio: true,
  },
  {
    field: 'damping',
    name: 'Damping',
    label: 'Damping of the hall',
    hint: 'How much sooner the highs decay.',
    step: 0.01,
    page: 0.1,
    show: percent,
  },
  {
    field: 'pre_delay_ms',
    name: 'Pre-delay',
    label: 'Pre-delay of the hall',
    hint: 'Silence before the reverb begins.',
    step: 1,
    page: 10,
    show: ms,
  },
  {
    field: 'width',
    name: 'Width',
    label: 'Width of the hall',
    hint: '0 % is mono, 100 % has independent sides.',
    step: 0.01,
    page: 0.1,
    show: percent,
  },
];
const EVERY: ValueField<SpaceOf<'echo'>> = {
  field: 'every_ms',
  name: 'Time',
  label: 'Time from repeat to repeat',
  step: 1,
  page: 25,
  show: ms,
  ratio: true,
};
const TEMPO: ValueField<SpaceOf<'echo'>> = {
  field: 'tempo',
  name: 'Tempo',
  label: 'Tempo of the echo',
  step: 0.5,
  page: 5,
  show: (v) => `${v} bpm`,
};
const ECHO: ValueField<SpaceOf<'echo'>>[] = [
  { field: 'repeats', name: 'Repeats', label: 'Repeats of the echo', step: 1, page: 4, show: (v) => `${v}` },
  {
    field: 'softer_db',
    name: 'Level per repeat',
    label: 'Each repeat quieter by',
    hint: 'How much quieter each repeat is than the one before.',
    step: 0.5,
    page: 3,
    show: (v) => `${v} dB`,
  },
  {
    field: 'darker',
    name: 'Darker per repeat',
    label: 'Each repeat darker by',
    hint: 'How many octaves lower each repeat is cut off.',
    step: 0.05,
    page: 0.5,
    show: (v) => `${v} oct`,
  },
  {
    field: 'sides',
    name: 'Ping-pong',
    label: 'How far repeats change sides',
    hint: 'How far repeats go left and right in turn.',
    step: 0.01,
    page: 0.1,
    show: percent,
  },
];
const RESPONSE: ValueField<SpaceOf<'response'>>[] = [
  {
    field: 'length_s',
    name: 'Length',
    label: 'Length of the impulse response',
    hint: 'How much of the file is used; the end fades out.',
    step: 0.05,
    page: 0.5,
    show: seconds,
  },
  {
    field: 'pre_delay_ms',
    name: 'Pre-delay',
    label: 'Pre-delay of the impulse response',
    hint: 'Silence before the response begins.',
    step: 1,
    page: 10,
    show: ms,
  },
];
const NAMES = { hall: 'Hall', echo: 'Echo', response: 'Impulse response' } as const;

export function SpaceStage({ bus, narrow }: { bus: Channel; narrow: boolean }) {
  const { space } = bus;
  const file = useRef<HTMLInputElement>(null);
  return (
    <Stage
      name="Reverb or echo"
      on={space?.on ?? false}
      onSwitch={(on) => setSpace(bus.id, { ...(space ?? rules().spaces.hall), on } as Space)}
      says={space?.kind === 'response' ? `${space.name}, ${seconds(space.seconds)}` : undefined}
    >
      <input
        ref={file}
        type="file"
        className="hidden"
        accept=".wav,.wave,.aif,.aiff,.flac"
        data-testid="response-input"
        onChange={(event) => {
          const chosen = event.target.files?.[0];
          event.target.value = '';
          if (chosen) void bringResponse(bus.id, chosen);
        }}
      />
      <div className={`grid gap-3 ${narrow ? 'grid-cols-1' : 'grid-cols-[minmax(190px,0.8fr)_minmax(0,2.4fr)]'}`}>
        <div className="grid content-start gap-1.5">
          <div className="flex flex-wrap items-center gap-1.5">
            <Pick
              label="Type of reverb or echo"
              value={space?.kind ?? ''}
              options={[
                { value: '', name: 'None' },
                { value: 'hall', name: NAMES.hall },
                { value: 'echo', name: NAMES.echo },
                {
                  value: 'response',
                  name: space?.kind === 'response' ? NAMES.response : 'Impulse response from a file…',
                },
              ]}
              onChange={(kind) => {
                if (kind === 'response') file.current?.click();
                else if (kind !== space?.kind)
                  setSpace(bus.id, kind ? (rules().spaces[kind as 'hall' | 'echo'] as Space) : null);
              }}
            />
            <ShelfMenu
              kind="spaces"
              name="Presets"
              label="Saved reverbs and echoes"
              nameOf="Name of this reverb or echo"
              says={(card) => card.value?.says}
              onPut={(card) => card.value && setSpace(bus.id, card.value.space)}
              value={space ? { space, says: '' } : null}
            />
          </div>
          {space?.kind === 'hall' && <HallValues bus={bus} space={space} />}
          {space?.kind === 'echo' && <EchoValues bus={bus} space={space} />}
          {space?.kind === 'response' && (
            <>
              <ResponseValues bus={bus} space={space} />
              <button
                type="button"
                className="link justify-self-start text-small"
                onClick={() => file.current?.click()}
              >
                Another file…
              </button>
            </>
          )}
          {!space && (
            <p className="text-small text-soft">
              Choose a hall, an echo, or load the impulse response of a real room; what is sent to {bus.name} is heard
              through it.
            </p>
          )}
        </div>
        {space && <SpaceCharts space={space} />}
      </div>
    </Stage>
  );
}

function HallValues({ bus, space }: { bus: Channel; space: SpaceOf<'hall'> }) {
  const hands = spaceOf(bus, space);
  return (
    <>
      <Values
        limits="hall"
        values={HALL}
        now={space}
        usual={rules().spaces.hall}
        onTurn={hands.turn}
        onKeep={hands.keep}
      />
      <button
        type="button"
        className="link justify-self-start text-small"
        title="Same settings, different reflections and noise"
        onClick={() => hands.set({ seed: (space.seed % 9999) + 1 })}
      >
        Another random room
      </button>
    </>
  );
}

function EchoValues({ bus, space }: { bus: Channel; space: SpaceOf<'echo'> }) {
  const hands = spaceOf(bus, space);
  const known = BEATS.some(([beats]) => beats === space.beats);
  const all = { limits: 'echo', now: space, usual: rules().spaces.echo, onTurn: hands.turn, onKeep: hands.keep };
  return (
    <>
      <Pick
        label="Timing"
        value={space.beats === null ? '' : String(space.beats)}
        options={[
          { value: '', name: 'by time' },
          ...BEATS.map(([beats, name]) => ({ value: String(beats), name })),
          ...(space.beats !== null && !known ? [{ value: String(space.beats), name: `${space.beats} beats` }] : []),
        ]}
        onChange={(beats) => hands.set({ beats: beats === '' ? null : Number(beats) })}
      />
      <Values {...all} values={space.beats === null ? [EVERY] : [TEMPO]} />
      <Values {...all} values={ECHO} />
    </>
  );
}

function ResponseValues({ bus, space }: { bus: Channel; space: SpaceOf<'response'> }) {
  const now = { ...space, length_s: space.length_s ?? space.seconds };
  const whole = (part: Partial<SpaceOf<'response'>>): Partial<SpaceOf<'response'>> =>
    part.length_s != null && part.length_s >= space.seconds ? { ...part, length_s: null } : part;
  const hands = spaceOf(bus, space);
  return (
    <Values
      limits="response"
      values={RESPONSE}
      now={now}
      usual={{ ...now, length_s: space.seconds, pre_delay_ms: 0 }}
      onTurn={(part) => hands.turn(whole(part))}
      onKeep={hands.keep}
    />
  );
}
