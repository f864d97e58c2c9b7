/**
 * Channel settings while a control is turned. They are heard at once, computed in the browser; when the control is
 * released they are saved as an edit with the same result.
 */
import { useMemo } from 'react';
import { create } from 'zustand';
import type { Channel, Edit, KitState } from '../../api/calls';
import { compileChannel } from '../../player/compiling';
import { hearSide } from '../comparing/comparing';
import { hearBefore } from './before';
import { allChannelsOf, channelsOf } from './channels';
import { useKit } from './kitStore';

export type Part = Partial<Pick<Channel, 'level_db' | 'pan' | 'muted' | 'treated' | 'treatments' | 'sends' | 'space'>>;

export const useDesk = create<{ turned: Record<string, Part> }>(() => ({ turned: {} }));

const channelIn = (kit: KitState, id: string) => allChannelsOf(kit).find((channel) => channel.id === id);

/** A channel with its present settings: turned, else saved. */
export function useChannel(channel: Channel): Channel {
  const part = useDesk((s) => s.turned[channel.id]);
  return useMemo(() => (part ? { ...channel, ...part } : channel), [channel, part]);
}

export function channelNow(id: string): Channel | null {
  const { kit } = useKit.getState();
  const kept = kit && channelIn(kit, id);
  return kept ? { ...kept, ...useDesk.getState().turned[id] } : null;
}

/** Turn something: heard within the current frame. */
export function turn(id: string, part: Part) {
  const { kit, player } = useKit.getState();
  const kept = kit && channelIn(kit, id);
  if (!kit || !kept) return;
  const all = { ...useDesk.getState().turned[id], ...part };
  useDesk.setState(({ turned }) => ({ turned: { ...turned, [id]: all } }));
  // Turning a treatment ends hearing its input.
  if (part.treatments || part.treated !== undefined) hearBefore(null);
  // Turning anything ends hearing B.
  hearSide('a');
  player?.turn(compileChannel({ ...kept, ...all }, aroundOf(kit)));
}

const aroundOf = (kit: KitState) => ({
  outputs: kit.head.outputs,
  places: new Map(channelsOf(kit).map(({ id }, place) => [id, place])),
  treated: kit.head.treated,
  rate: kit.head.rate_hz,
});

/** Save the turned settings of some channels by an edit; they stay in effect until the studio has it. */
export async function keepTurned(ids: string | readonly string[], edit: Edit, gesture: string) {
  const channels = typeof ids === 'string' ? [ids] : ids;
  const said = new Map(channels.map((id) => [id, useDesk.getState().turned[id]]));
  await useKit.getState().edit(edit, gesture);
  for (const id of channels) {
    // Turned again meanwhile: the newer value is saved by that gesture.
    if (useDesk.getState().turned[id] !== said.get(id)) continue;
    const { [id]: _, ...turned } = useDesk.getState().turned;
    useDesk.setState({ turned });
    useKit.getState().player?.turn(null, id);
  }
}

// Turned settings are dropped when the kit is left.
useKit.subscribe((now, before) => {
  if (now.kit?.id !== before.kit?.id) useDesk.setState({ turned: {} });
});
