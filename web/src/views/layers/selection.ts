/** The selected takes or layer of an articulation. */
import { create } from 'zustand';
import type { Articulation } from '../../api/calls';

interface Selection {
  articulation: string;
  takes: string[];
  anchor: string | null;
  layer: number | null;
  /** The take focused last: Tab returns to it. */
  stop: string | null;
  chooseTakes: (articulation: string, takes: string[], anchor?: string | null) => void;
  chooseLayer: (articulation: string, layer: number | null) => void;
}

export const useSelection = create<Selection>((set) => ({
  articulation: '',
  takes: [],
  anchor: null,
  layer: null,
  stop: null,
  chooseTakes: (articulation, takes, anchor) =>
    set({
      articulation,
      takes,
      anchor: anchor === undefined ? (takes[takes.length - 1] ?? null) : anchor,
      layer: null,
    }),
  chooseLayer: (articulation, layer) => set({ articulation, layer, takes: [], anchor: null }),
}));

/** The takes of an articulation in grid order: softest layer first, unused ones last. */
export function takesInOrder(articulation: Articulation): string[] {
  const placed = articulation.layers.flatMap((layer) => layer.takes);
  const known = new Set(placed);
  return [...placed, ...articulation.takes.map((take) => take.id).filter((id) => !known.has(id))];
}

/** The take that Tab stops at: the one focused last, else the first that is drawn. */
export function tabStop(articulation: Articulation, last: string | null): string | null {
  if (last !== null && articulation.takes.some((take) => take.id === last)) return last;
  const rows = articulation.layers.map((layer) => layer.takes).reverse();
  return rows.flat()[0] ?? articulation.takes[0]?.id ?? null;
}

const NONE: string[] = [];

interface Selected {
  takes: string[];
  layer: number | null;
}

/** The selection in this articulation, as far as it still exists. */
export function useSelected(articulation: Articulation | null): Selected {
  const mine = useSelection((s) => s.articulation === articulation?.id);
  const takes = useSelection((s) => s.takes);
  const layer = useSelection((s) => s.layer);
  return mine && articulation ? stillThere(articulation, takes, layer) : { takes: NONE, layer: null };
}

/** The same, read once outside of rendering. */
export function selectedOf(articulation: Articulation): Selected {
  const { articulation: mine, takes, layer } = useSelection.getState();
  return mine === articulation.id ? stillThere(articulation, takes, layer) : { takes: NONE, layer: null };
}

function stillThere(articulation: Articulation, takes: string[], layer: number | null): Selected {
  const there = new Set(articulation.takes.map((take) => take.id));
  return {
    takes: takes.every((id) => there.has(id)) ? takes : takes.filter((id) => there.has(id)),
    layer: layer !== null && layer < articulation.layers.length ? layer : null,
  };
}

/**
 * A press on a take selects it; with Ctrl it is added or removed; with Shift the range from the last pressed is
 * selected.
 */
export function pressTake(articulation: Articulation, id: string, keys: { join: boolean; range: boolean }) {
  const { takes, anchor, chooseTakes, articulation: was } = useSelection.getState();
  const mine = was === articulation.id ? takes : [];
  if (keys.range && anchor && was === articulation.id) {
    const order = takesInOrder(articulation);
    const [from, to] = [order.indexOf(anchor), order.indexOf(id)].sort((a, b) => a - b) as [number, number];
    if (from >= 0) return chooseTakes(articulation.id, order.slice(from, to + 1), anchor);
  }
  if (keys.join)
    return chooseTakes(articulation.id, mine.includes(id) ? mine.filter((t) => t !== id) : [...mine, id], id);
  chooseTakes(articulation.id, [id]);
}
