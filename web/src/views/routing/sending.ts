/** A channel's sends: turned while listening, saved on release. */
import type { Channel, Edit, KitState } from '../../api/calls';
import { channelNow, keepTurned, turn } from '../../app/kit/desk';
import { useKit } from '../../app/kit/kitStore';
import { rules } from '../../app/kit/rules';

export type Send = Channel['sends'][number];

export const sendInto = (channel: Channel, bus: string): Send | undefined =>
  channel.sends.find((send) => send.bus === bus);

export function turnSend(id: string, bus: string, level_db: number) {
  const channel = channelNow(id);
  if (!channel || !sendInto(channel, bus)) return;
  turn(id, { sends: channel.sends.map((send) => (send.bus === bus ? { ...send, level_db } : send)) });
}

export function keepSend(id: string, bus: string, level_db: number, gesture: string) {
  turnSend(id, bus, level_db);
  void keepTurned(id, { kind: 'set_send', channel: id, bus, level_db }, gesture);
}

const edit = (one: Edit) => void useKit.getState().edit(one);

export const addSend = (id: string, bus: string) =>
  edit({ kind: 'set_send', channel: id, bus, level_db: rules().first_send_db });

export const removeSend = (id: string, bus: string) => edit({ kind: 'set_send', channel: id, bus, level_db: null });

export const setPreFader = (id: string, send: Send, pre_fader: boolean) =>
  edit({ kind: 'set_send', channel: id, bus: send.bus, level_db: send.level_db, pre_fader });

/** The buses a channel may be routed or sent to, as given by the core. */
export const busesFor = (kit: KitState, { may_enter }: Channel): Channel[] =>
  kit.head.buses.filter((bus) => may_enter.includes(bus.id));
