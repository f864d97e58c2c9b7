/**
 * Compiles channel settings for the player while a control is turned: the twin of `_channel` in
 * drumcore/playing/compiling.py and of drumcore/routing/pan.py. A twin test compares them.
 */
import type { Channel, PlayChannel } from '../api/calls';
import { HIGHEST_SHARE } from './treatments/eq';
import type { PlayTreatment } from './treatments/kinds';

export type Treatment = Channel['treatments'][number];

const HALF = [0.5, 0.5];

type Sides = 'mono' | 'stereo';

export function panMatrix(source: Sides, target: Sides, pan: number): number[][] {
  if (target === 'mono') return source === 'mono' ? [[1]] : [HALF];
  if (source === 'mono') {
    const angle = (((pan + 1) / 2) * Math.PI) / 2;
    return [[Math.cos(angle)], [Math.sin(angle)]];
  }
  const angle = ((pan <= 0 ? pan + 1 : pan) * Math.PI) / 2;
  const [keep, move] = [Math.cos(angle), Math.sin(angle)];
  return pan <= 0
    ? [
        [1, keep],
        [0, move],
      ]
    : [
        [keep, 0],
        [move, 1],
      ];
}

function sideMatrix(source: Sides, side: 'left' | 'right'): number[][] {
  const here = source === 'mono' ? [1] : HALF;
  const other = here.map(() => 0);
  return side === 'left' ? [here, other] : [other, here];
}

/** Treatments as players need them; those that are off are left out. */
export function compileTreatments(treatments: readonly Treatment[], rate: number): PlayTreatment[] {
  return treatments.flatMap((treatment): PlayTreatment[] => {
    if (!treatment.on) return [];
    const { on: _, ...settings } = treatment;
    if (settings.kind !== 'eq') return [settings];
    const bands = settings.bands.map((band) => ({ ...band, hz: Math.min(band.hz, HIGHEST_SHARE * rate) }));
    return [{ ...settings, bands }];
  });
}

interface Around {
  outputs: readonly { number: number; width: Sides }[];
  /** The indices of buses in the player: after the channels. */
  places: ReadonlyMap<string, number>;
  /** Whether treatments are enabled. */
  treated: boolean;
  rate: number;
}

const scaled = (matrix: number[][], gain: number) => matrix.map((row) => row.map((cell) => cell * gain));

export function compileChannel(channel: Channel, { outputs, places, treated, rate }: Around): PlayChannel {
  const goes = channel.output || (channel.id === 'main' ? 1 : 0);
  const target = (goes && outputs.find((output) => output.number === goes)?.width) || 'stereo';
  const gain = channel.muted ? 0 : 10 ** (channel.level_db / 20);
  const side = channel.output && target === 'stereo' ? channel.side : 'both';
  const matrix = side === 'both' ? panMatrix(channel.width, target, channel.pan) : sideMatrix(channel.width, side);
  return {
    id: channel.id,
    name: channel.name,
    width: channel.width,
    output: goes,
    matrix: scaled(matrix, gain),
    into: channel.bus ? (places.get(channel.bus) as number) : null,
    sends: channel.sends.map(({ bus, level_db, pre_fader }) => {
      const sent = channel.muted ? 0 : 10 ** ((pre_fader ? level_db : level_db + channel.level_db) / 20);
      const into = places.get(bus) as number;
      return { into, matrix: scaled(panMatrix(channel.width, 'stereo', pre_fader ? 0 : channel.pan), sent) };
    }),
    treatments: treated && channel.treated ? compileTreatments(channel.treatments, rate) : [],
    space: channel.space?.on ? channel.space : null,
  };
}
