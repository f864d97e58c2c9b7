/** A bus's reverb or echo: turned while listening, saved on release. */
import { type Channel, postForm, type Space } from '../../../api/calls';
import { channelNow, keepTurned, turn } from '../../../app/kit/desk';
import { useKit } from '../../../app/kit/kitStore';
import { newGesture } from '../../../ui/gestures';

export type SpaceKind = Space['kind'];
export type SpaceOf<K extends SpaceKind> = Extract<Space, { kind: K }>;

/** Hear a bus through a reverb or echo. */
export const turnSpace = (bus: string, space: Space | null) => turn(bus, { space });

export function keepSpace(bus: string, gesture: string) {
  const channel = channelNow(bus);
  if (channel) void keepTurned(bus, { kind: 'set_space', bus, space: channel.space }, gesture);
}

export function setSpace(bus: string, space: Space | null) {
  turnSpace(bus, space);
  keepSpace(bus, newGesture('space'));
}

/**
 * The settings and actions of a bus's reverb. Turning one that is off switches it on, because it is meant to be heard.
 */
export function spaceOf<K extends SpaceKind>(channel: Channel, space: SpaceOf<K>) {
  return {
    turn: (part: Partial<SpaceOf<K>>) => turnSpace(channel.id, { ...space, ...part, on: true } as Space),
    keep: (gesture: string) => keepSpace(channel.id, gesture),
    set: (part: Partial<SpaceOf<K>>) => setSpace(channel.id, { ...space, on: true, ...part } as Space),
  };
}

/** Import a file as a bus's impulse response. Returns errors and warnings. */
export async function bringResponse(bus: string, file: File) {
  const form = new FormData();
  form.append('file', file);
  try {
    const { space, said } = await postForm('/api/spaces/responses', {}, form);
    setSpace(bus, space);
    if (said) useKit.getState().say(said);
  } catch (error) {
    useKit.getState().say((error as Error).message);
  }
}

/** The note lengths offered for an echo; the value itself may be any. */
export const BEATS = [
  [1 / 8, '1/8 of a beat'],
  [1 / 6, '1/6 of a beat'],
  [1 / 4, '1/4 of a beat'],
  [1 / 3, '1/3 of a beat'],
  [1 / 2, '1/2 of a beat'],
  [2 / 3, '2/3 of a beat'],
  [3 / 4, '3/4 of a beat'],
  [1, 'every beat'],
  [3 / 2, '1 1/2 beats'],
  [2, '2 beats'],
] as const;
