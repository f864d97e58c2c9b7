/** What is chosen in the library: one that is looked at, or several that something is done to. */
import { create } from 'zustand';
import type { Entry } from '../../api/calls';

export type Thing = Pick<Entry, 'kind' | 'id' | 'name'>;

export const keyOf = ({ kind, id }: Pick<Entry, 'kind' | 'id'>) => `${kind}/${id}`;

interface Chosen {
  /** Where the arrows stand. */
  at: number;
  looked: Thing | null;
  several: Map<string, Thing>;
  look: (entry: Thing | null, at?: number) => void;
  toggle: (entry: Thing, at: number) => void;
  /** All from where the arrows stand to a place. */
  reach: (entries: Thing[], at: number) => void;
  clear: () => void;
}

export const useChosen = create<Chosen>((set, read) => ({
  at: 0,
  looked: null,
  several: new Map(),
  look: (entry, at = read().at) => set({ looked: entry, at, several: new Map() }),
  toggle: (entry, at) => {
    const several = new Map(read().several);
    const { looked } = read();
    if (!several.size && looked && keyOf(looked) !== keyOf(entry)) several.set(keyOf(looked), looked);
    if (!several.delete(keyOf(entry))) several.set(keyOf(entry), entry);
    set({ several, at, looked: several.size === 1 ? ([...several.values()][0] ?? null) : entry });
  },
  reach: (entries, at) => set({ several: new Map(entries.map((entry) => [keyOf(entry), entry])), at }),
  clear: () => set({ several: new Map() }),
}));

/** What something would be done to. */
export const thingsOf = ({ looked, several }: Pick<Chosen, 'looked' | 'several'>): Thing[] =>
  several.size > 1 ? [...several.values()] : looked ? [looked] : [];
