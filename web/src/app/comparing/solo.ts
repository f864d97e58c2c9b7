/** Solo: affects listening in this window only, never the kit, its versions or its stems. */
import { create } from 'zustand';
import type { KitState } from '../../api/calls';
import type { Player } from '../../player/player';
import { channelsOf } from '../kit/channels';
import { useKit } from '../kit/kitStore';

/** A set of soloed items by id: which ids exist, and how the player is told. */
function alone(there: (kit: KitState) => string[], tell: (player: Player, ids: ReadonlySet<string>) => void) {
  const use = create<{ ids: ReadonlySet<string> }>(() => ({ ids: new Set() }));
  const hear = (ids: ReadonlySet<string>, { player } = useKit.getState()) => {
    use.setState({ ids });
    if (player) tell(player, ids);
  };
  const toggle = (id: string) => {
    const ids = new Set(use.getState().ids);
    if (!ids.delete(id)) ids.add(id);
    hear(ids);
  };
  // Another kit starts without solo; items that no longer exist leave it.
  useKit.subscribe((now, before) => {
    const { ids } = use.getState();
    if (!ids.size || now.kit === before.kit) return;
    const stays = now.kit && now.kit.id === before.kit?.id;
    const known = new Set(stays ? there(now.kit as KitState) : []);
    const left = new Set([...ids].filter((id) => known.has(id)));
    if (left.size < ids.size) hear(left, now);
  });
  return { use, toggle };
}

export const channelsAlone = alone(
  (kit) => channelsOf(kit).map(({ id }) => id),
  (player, ids) => player.solo(ids),
);

export const micsAlone = alone(
  (kit) => kit.head.mics.map(({ id }) => id),
  (player, ids) => player.soloMics(ids),
);
