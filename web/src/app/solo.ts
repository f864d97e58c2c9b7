/** Which channels are heard alone: listening, in this window only. The kit, its versions and its stems know nothing of it. */
import { create } from 'zustand';
import { useKit } from './kitStore';

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
  const there = new Set(now.kit?.id === before.kit?.id ? now.kit?.head.channels.map((c) => c.id) : []);
  const left = new Set([...channels].filter((id) => there.has(id)));
  if (left.size === channels.size) return;
  useSolo.setState({ channels: left });
  now.player?.solo(left);
});
