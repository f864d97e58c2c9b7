/**
 * Hearing a treatment's input at the loudness of its output. It affects listening in this window only; after any
 * change, the output is heard.
 */
import { create } from 'zustand';
import type { KitState } from '../../api/calls';
import { WHOLE_KIT } from '../../player/listened';
import { allChannelsOf } from './channels';
import { useKit } from './kitStore';

export const useBefore = create<{ of: string | null; louderDb: number }>(() => ({ of: null, louderDb: 0 }));

/** Hear a channel (or `WHOLE_KIT`) without treatment, raised by `louderDb` to match; null: as it is. */
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

// A change is meant to be heard; another kit is heard as it is.
useKit.subscribe((now, before) => {
  const { of } = useBefore.getState();
  if (of === null || now.kit === before.kit) return;
  if (now.kit?.id !== before.kit?.id || treatmentsOf(now.kit, of) !== treatmentsOf(before.kit, of)) hearBefore(null);
});
