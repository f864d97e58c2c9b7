/** The selection in the library: one item to look at, or several to act on. */
import { create } from 'zustand';
import type { Entry } from '../../api/calls';

export type Thing = Pick<Entry, 'kind' | 'id' | 'name'>;

export const keyOf = ({ kind, id }: Pick<Entry, 'kind' | 'id'>) => `${kind}/${id}`;

interface Chosen {
  /** The index of the item the arrow keys are at. */
  at: number;
  looked: Thing | null;
  several: Map<string, Thing>;
  look: (entry: Thing | null, at?: number) => void;
  toggle: (entry: Thing, at: number) => void;
  /** Selects from the arrow position to an index. */
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

/** The items that an action applies to. */
export const thingsOf = ({ looked, several }: Pick<Chosen, 'looked' | 'several'>): Thing[] =>
  several.size > 1 ? [...several.values()] : looked ? [looked] : [];
