/** Impulse responses from the core, cached while an audio context lives and shared by all buses. */
import type { PlayChannel } from '../api/calls';

export type PlaySpace = NonNullable<PlayChannel['space']>;

export interface ImpulseResponse {
  buffer: AudioBuffer;
  /** The input is the average of both sides. */
  middle: boolean;
}

/** How many are kept while a control is turned. */
const MOST_HELD = 24;

export const impulseResponseAddress = (space: PlaySpace, rate: number) =>
  `/api/spaces/impulse-responses/${rate}?space=${encodeURIComponent(JSON.stringify(space))}`;

/**
 * An impulse response as received: the number of sides, 1 if its input is the average of both sides, then its sides as
 * 32-bit floats.
 */
export function impulseResponseIn(context: BaseAudioContext, file: ArrayBuffer): ImpulseResponse {
  const view = new DataView(file);
  const sides = view.getUint32(0, true);
  const samples = new Float32Array(file, 8);
  const frames = samples.length / sides;
  const buffer = new AudioBuffer({ numberOfChannels: sides, length: frames, sampleRate: context.sampleRate });
  for (let side = 0; side < sides; side++) {
    buffer.copyToChannel(samples.subarray(side * frames, (side + 1) * frames), side);
  }
  return { buffer, middle: view.getUint32(4, true) === 1 };
}

export class ImpulseResponses {
  private held = new Map<string, ImpulseResponse>();

  constructor(private context: BaseAudioContext) {}

  known(space: PlaySpace): ImpulseResponse | undefined {
    return this.held.get(JSON.stringify(space));
  }

  /** Throws if the studio does not have it or does not respond. */
  async load(space: PlaySpace): Promise<ImpulseResponse> {
    const key = JSON.stringify(space);
    const known = this.held.get(key);
    if (known) return known;
    const response = await fetch(impulseResponseAddress(space, this.context.sampleRate));
    if (!response.ok) throw new Error(`${response.status}`);
    const answer = impulseResponseIn(this.context, await response.arrayBuffer());
    this.held.set(key, answer);
    for (const oldest of [...this.held.keys()].slice(0, -MOST_HELD)) this.held.delete(oldest);
    return answer;
  }
}
