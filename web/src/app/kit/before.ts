/**
 * Hearing what a treatment was given, as loud as what it makes of it. It is listening, in this window only: the kit, its
 * versions and its stems know nothing of it, and whatever is turned is heard at once instead.
 */
import { create } from 'zustand';
import type { KitState } from '../../api/calls';
import { WHOLE_KIT } from '../../player/listened';
import { allChannelsOf } from './channels';
import { useKit } from './kitStore';

export const useBefore = create<{ of: string | null; louderDb: number }>(() => ({ of: null, louderDb: 0 }));

/** Hear a channel (or `WHOLE_KIT`) without treatment, so much louder that it is as loud as with it; null: as it is. */
export function hearBefore(of: string | null, louderDb = 0) {
  const now = useBefore.getState();
  if (now.of === of && now.louderDb === louderDb) return;
  useBefore.setState({ of, louderDb });
  useKit.getState().player?.hearBefore(of, 10 ** (louderDb / 20));
}

const treatmentsOf = (kit: KitState | null, of: string) =>
  JSON.stringify(
    (kit ? allChannelsOf(kit) : [])
      .filter(({ id }) => of === WHOLE_KIT || id === of)
      .map(({ id, treatments, treated }) => [id, treatments, treated]),
  );

// What was changed is meant to be heard; another kit is heard as it is.
useKit.subscribe((now, before) => {
  const { of } = useBefore.getState();
  if (of === null || now.kit === before.kit) return;
  if (now.kit?.id !== before.kit?.id || treatmentsOf(now.kit, of) !== treatmentsOf(before.kit, of)) hearBefore(null);
});
