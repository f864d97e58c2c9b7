/** Channels taken together: which are chosen, and what hands do to all of them at once. Groups, which last, are the kit's. */
import { create } from 'zustand';
import type { Channel, Edit } from '../../api/calls';
import { channelsOf, MAIN } from '../../app/kit/channels';
import { channelNow, keepTurned, turn } from '../../app/kit/desk';
import { useKit } from '../../app/kit/kitStore';
import { limitsOf } from '../../app/kit/rules';
import { moved } from '../../player/together';
import { newGesture } from '../../ui/gestures';

/** The channels chosen in the order they were, the last being the one that is open. */
export const useChosen = create<{ ids: readonly string[] }>(() => ({ ids: [] }));

interface Keys {
  ctrlKey: boolean;
  metaKey: boolean;
  shiftKey: boolean;
}

/** Choose a channel: alone, beside those chosen (Ctrl), or all from the open one to it (Shift). Main stays by itself. */
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
  // One that is pressed again is let go, as long as another is left.
  useChosen.setState({ ids: left.length < ids.length && left.length ? left : [...left, id] });
}

// Nothing is chosen in a kit that is left.
useKit.subscribe((now, before) => {
  if (now.kit?.id !== before.kit?.id) useChosen.setState({ ids: [] });
});

/** The channels that follow one: those chosen with it. It comes first. */
export function chosenWith(id: string): string[] {
  const { ids } = useChosen.getState();
  return ids.includes(id) && id !== MAIN ? [id, ...ids.filter((each) => each !== id)] : [id];
}

/** Whose levels move when this one's does: those chosen with it, and all that are grouped with any of them. */
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

/** Where a channel and those chosen with it go: into a bus by its id, or to an output by its number, 0 being main. */
export function goTo(id: string, to: string) {
  if (/^\d+$/.test(to)) keepSame(id, { output: Number(to) }, newGesture('goes to'));
  else void useKit.getState().edit({ kind: 'go_into_bus', channels: chosenWith(id), bus: to });
}

type Same = Partial<Pick<Channel, 'pan' | 'muted' | 'output'>>;

/** The edit that does something to a channel and to those chosen with it. */
function editOf(id: string, part: Same & { level_db?: number }): Edit {
  const all = chosenWith(id);
  return all.length > 1
    ? { kind: 'set_channels', channels: all, ...part }
    : { kind: 'set_channel', channel: id, ...part };
}

/** Turn what becomes the same on all chosen channels. */
export function turnSame(id: string, part: Pick<Same, 'pan' | 'muted'>) {
  for (const each of chosenWith(id)) if (channelNow(each)) turn(each, part);
}

export function keepSame(id: string, part: Same, gesture: string) {
  const { output: _, ...turned } = part;
  if (Object.keys(turned).length) turnSame(id, turned);
  void keepTurned(chosenWith(id), editOf(id, part), gesture);
}
