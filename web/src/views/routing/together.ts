/** Several selected channels and what is done to all of them. Groups, which last, belong to the kit. */
import { create } from 'zustand';
import type { Channel, Edit } from '../../api/calls';
import { channelsOf, MAIN } from '../../app/kit/channels';
import { channelNow, keepTurned, turn } from '../../app/kit/desk';
import { useKit } from '../../app/kit/kitStore';
import { limitsOf } from '../../app/kit/rules';
import { moved } from '../../player/together';
import { newGesture } from '../../ui/gestures';

/** The selected channels in order; the last one is open. */
export const useChosen = create<{ ids: readonly string[] }>(() => ({ ids: [] }));

interface Keys {
  ctrlKey: boolean;
  metaKey: boolean;
  shiftKey: boolean;
}

/** Select a channel: alone, in addition (Ctrl), or as a range (Shift). Main is always alone. */
export function choose(id: string, { ctrlKey, metaKey, shiftKey }: Keys, order: readonly string[]) {
  const ids = useChosen.getState().ids.filter((each) => order.includes(each));
  const open = ids.at(-1);
  if (id === MAIN || open === undefined || !(ctrlKey || metaKey || shiftKey)) {
    useChosen.setState({ ids: [id] });
    return;
  }
  if (shiftKey) {
    const [from, to] = [order.indexOf(open), order.indexOf(id)];
    const between = order.slice(Math.min(from, to), Math.max(from, to) + 1);
    useChosen.setState({ ids: [...between.filter((each) => each !== id), id] });
    return;
  }
  const left = ids.filter((each) => each !== id);
  // A selected one is removed, if another remains.
  useChosen.setState({ ids: left.length < ids.length && left.length ? left : [...left, id] });
}

// A kit that is left loses its selection.
useKit.subscribe((now, before) => {
  if (now.kit?.id !== before.kit?.id) useChosen.setState({ ids: [] });
});

/** A channel and those selected with it, itself first. */
export function chosenWith(id: string): string[] {
  const { ids } = useChosen.getState();
  return ids.includes(id) && id !== MAIN ? [id, ...ids.filter((each) => each !== id)] : [id];
}

/** The channels whose levels move with this one's: selected with it, or grouped with any of them. */
function moving(id: string): Channel[] {
  const { kit } = useKit.getState();
  if (!kit) return [];
  const chosen = chosenWith(id);
  const ids = new Set([...chosen, ...kit.head.groups.filter((group) => group.some((c) => chosen.includes(c))).flat()]);
  return channelsOf(kit).filter((channel) => ids.has(channel.id));
}

/** Turn a level, and with it those that keep their distance to it. */
export function turnLevel(id: string, level_db: number) {
  const ends = limitsOf('channel.level_db');
  const all = moving(id);
  const kept = all.find((c) => c.id === id);
  if (!kept || all.length < 2 || kept.level_db === ends.least || level_db === ends.least) {
    turn(id, { level_db });
    return;
  }
  const levels = Object.fromEntries(all.map((c) => [c.id, c.level_db]));
  for (const [each, level] of Object.entries(moved(levels, level_db - kept.level_db, ends))) {
    turn(each, { level_db: level });
  }
}

export function keepLevel(id: string, level_db: number, gesture: string) {
  turnLevel(id, level_db);
  const ids = moving(id).map((c) => c.id);
  void keepTurned(ids.length ? ids : id, editOf(id, { level_db }), gesture);
}

/** Route a channel and those selected with it: to a bus by id, or to an output by number, 0 for main. */
export function goTo(id: string, to: string) {
  if (/^\d+$/.test(to)) keepSame(id, { output: Number(to) }, newGesture('goes to'));
  else void useKit.getState().edit({ kind: 'go_into_bus', channels: chosenWith(id), bus: to });
}

type Same = Partial<Pick<Channel, 'pan' | 'muted' | 'output'>>;

/** The edit that changes a channel and those selected with it. */
function editOf(id: string, part: Same & { level_db?: number }): Edit {
  const all = chosenWith(id);
  return all.length > 1
    ? { kind: 'set_channels', channels: all, ...part }
    : { kind: 'set_channel', channel: id, ...part };
}

/** Turn a setting that becomes equal on all selected channels. */
export function turnSame(id: string, part: Pick<Same, 'pan' | 'muted'>) {
  for (const each of chosenWith(id)) if (channelNow(each)) turn(each, part);
}

export function keepSame(id: string, part: Same, gesture: string) {
  const { output: _, ...turned } = part;
  if (Object.keys(turned).length) turnSame(id, turned);
  void keepTurned(chosenWith(id), editOf(id, part), gesture);
}
