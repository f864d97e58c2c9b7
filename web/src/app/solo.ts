/** Which channels are heard alone: listening, in this window only. The kit, its versions and its stems know nothing of it. */
import { create } from 'zustand';
import type { KitState } from '../api/calls';
import { useKit } from './kitStore';
import { lanesOf } from './lanes';

export const useSolo = create<{ channels: ReadonlySet<string> }>(() => ({ channels: new Set() }));

export function toggleSolo(channel: string) {
  const channels = new Set(useSolo.getState().channels);
  if (!channels.delete(channel)) channels.add(channel);
  useSolo.setState({ channels });
  useKit.getState().player?.solo(channels);
}

// Another kit is listened to from its beginning; a channel that is gone is no longer soloed.
useKit.subscribe((now, before) => {
  const { channels } = useSolo.getState();
  if (!channels.size || now.kit === before.kit) return;
  const stays = now.kit && now.kit.id === before.kit?.id;
  const there = new Set(stays ? lanesOf(now.kit as KitState).map((c) => c.id) : []);
  const left = new Set([...channels].filter((id) => there.has(id)));
  if (left.size === channels.size) return;
  useSolo.setState({ channels: left });
  now.player?.solo(left);
});
