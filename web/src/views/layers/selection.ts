/** Which takes, or which layer, of an articulation are selected. */
import { create } from 'zustand';
import type { Articulation } from '../../api/calls';

interface Selection {
  stroke: string;
  takes: string[];
  anchor: string | null;
  layer: number | null;
  /** The take that had the focus last: Tab comes back to it. */
  stop: string | null;
  chooseTakes: (stroke: string, takes: string[], anchor?: string | null) => void;
  chooseLayer: (stroke: string, layer: number | null) => void;
}

export const useSelection = create<Selection>((set) => ({
  stroke: '',
  takes: [],
  anchor: null,
  layer: null,
  stop: null,
  chooseTakes: (stroke, takes, anchor) =>
    set({ stroke, takes, anchor: anchor === undefined ? (takes[takes.length - 1] ?? null) : anchor, layer: null }),
  chooseLayer: (stroke, layer) => set({ stroke, layer, takes: [], anchor: null }),
}));

/** The takes of an articulation as they lie in the grid: softest layer first, those put aside last. */
export function takesInOrder(stroke: Articulation): string[] {
  const placed = stroke.layers.flatMap((layer) => layer.takes);
  const known = new Set(placed);
  return [...placed, ...stroke.takes.map((take) => take.id).filter((id) => !known.has(id))];
}

/** The one take of an articulation that Tab stops at: the one that had the focus last, else the first that is drawn. */
export function tabStop(stroke: Articulation, last: string | null): string | null {
  if (last !== null && stroke.takes.some((take) => take.id === last)) return last;
  const rows = stroke.layers.map((layer) => layer.takes).reverse();
  return rows.flat()[0] ?? stroke.takes[0]?.id ?? null;
}

const NONE: string[] = [];

interface Selected {
  takes: string[];
  layer: number | null;
}

/** What is selected of this articulation, as far as it is still there. */
export function useSelected(stroke: Articulation | null): Selected {
  const mine = useSelection((s) => s.stroke === stroke?.id);
  const takes = useSelection((s) => s.takes);
  const layer = useSelection((s) => s.layer);
  return mine && stroke ? stillThere(stroke, takes, layer) : { takes: NONE, layer: null };
}

/** The same at this moment, for what is done and not drawn. */
export function selectedOf(stroke: Articulation): Selected {
  const { stroke: mine, takes, layer } = useSelection.getState();
  return mine === stroke.id ? stillThere(stroke, takes, layer) : { takes: NONE, layer: null };
}

function stillThere(stroke: Articulation, takes: string[], layer: number | null): Selected {
  const there = new Set(stroke.takes.map((take) => take.id));
  return {
    takes: takes.every((id) => there.has(id)) ? takes : takes.filter((id) => there.has(id)),
    layer: layer !== null && layer < stroke.layers.length ? layer : null,
  };
}

/** A press on a take: alone, with a command key joined or left, with shift everything from the one pressed before. */
export function pressTake(stroke: Articulation, id: string, keys: { join: boolean; range: boolean }) {
  const { takes, anchor, chooseTakes, stroke: was } = useSelection.getState();
  const mine = was === stroke.id ? takes : [];
  if (keys.range && anchor && was === stroke.id) {
    const order = takesInOrder(stroke);
    const [from, to] = [order.indexOf(anchor), order.indexOf(id)].sort((a, b) => a - b) as [number, number];
    if (from >= 0) return chooseTakes(stroke.id, order.slice(from, to + 1), anchor);
  }
  if (keys.join) return chooseTakes(stroke.id, mine.includes(id) ? mine.filter((t) => t !== id) : [...mine, id], id);
  chooseTakes(stroke.id, [id]);
}
