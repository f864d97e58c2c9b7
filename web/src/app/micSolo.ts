/** Which microphones are heard alone, wherever they go: listening, in this window only. */
import { create } from 'zustand';
import { useKit } from './kitStore';

export const useMicSolo = create<{ mics: ReadonlySet<string> }>(() => ({ mics: new Set() }));

export function toggleMicSolo(mic: string) {
  const mics = new Set(useMicSolo.getState().mics);
  if (!mics.delete(mic)) mics.add(mic);
  useMicSolo.setState({ mics });
  useKit.getState().player?.soloMics(mics);
}

// Another kit is listened to from its beginning; a microphone that is gone is no longer soloed.
useKit.subscribe((now, before) => {
  const { mics } = useMicSolo.getState();
  if (!mics.size || now.kit === before.kit) return;
  const stays = now.kit && now.kit.id === before.kit?.id;
  const there = new Set(stays ? now.kit?.head.mics.map((mic) => mic.id) : []);
  const left = new Set([...mics].filter((id) => there.has(id)));
  if (left.size === mics.size) return;
  useMicSolo.setState({ mics: left });
  now.player?.soloMics(left);
});
