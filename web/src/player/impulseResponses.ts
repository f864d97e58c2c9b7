/** What spaces answer, made by the core and kept while a context lives: asked for once, however many buses have it. */
import type { PlayChannel } from '../api/calls';

export type PlaySpace = NonNullable<PlayChannel['space']>;

export interface ImpulseResponse {
  buffer: AudioBuffer;
  /** It is entered by the mean of both sides. */
  middle: boolean;
}

/** As many as are held while a control is turned. */
const MOST_HELD = 24;

export const impulseResponseAddress = (space: PlaySpace, rate: number) =>
  `/api/spaces/impulse-responses/${rate}?space=${encodeURIComponent(JSON.stringify(space))}`;

/** An answer as it comes: how many sides, 1 where it is entered by the middle, then its sides in 32-bit floats. */
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

  /** Throws where the studio does not have it, or does not answer. */
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
