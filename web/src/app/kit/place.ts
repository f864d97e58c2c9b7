/** What the user looks at: piece, articulation and take, kept from step to step. */
import { create } from 'zustand';
import type { Articulation, Piece } from '../../api/calls';
import { pieceIdOf, useKit } from './kitStore';

interface Place {
  piece: string | null;
  articulation: string | null;
  take: string | null;
  /** How often something was selected, the same thing again included. */
  times: number;
  lookAt: (place: { piece?: string | null; articulation?: string | null; take?: string | null }) => void;
}

export const usePlace = create<Place>((set) => ({
  piece: null,
  articulation: null,
  take: null,
  times: 0,
  lookAt: (place) => {
    set((was) => {
      const piece = place.piece ?? pieceIdOf(place.articulation) ?? was.piece;
      const same = piece === was.piece;
      const articulation = place.articulation ?? (same ? was.articulation : null);
      const take = place.take !== undefined ? place.take : articulation === was.articulation ? was.take : null;
      return { piece, articulation, take, times: was.times + 1 };
    });
  },
}));

interface LookedAt {
  piece: Piece | null;
  articulation: Articulation | null;
  takeId: string | null;
}

/** The piece and articulation looked at; by default the kit's first. */
export function useLookedAt(): LookedAt {
  const pieces = useKit((s) => s.pieces);
  const order = useKit((s) => s.kit?.order);
  return found(pieces, order, usePlace());
}

/** The same, read once outside of rendering. */
export function lookedAt(): LookedAt {
  const { pieces, kit } = useKit.getState();
  return found(pieces, kit?.order, usePlace.getState());
}

function found(pieces: Map<string, Piece>, order: string[] | undefined, place: Place): LookedAt {
  const piece = pieces.get(place.piece ?? '') ?? pieces.get(order?.[0] ?? '') ?? null;
  const articulation = piece?.articulations.find((a) => a.id === place.articulation) ?? piece?.articulations[0] ?? null;
  // Takes of different articulations share names, so a take counts only with its articulation.
  const there = articulation?.id === place.articulation && articulation?.takes.some((t) => t.id === place.take);
  return { piece, articulation, takeId: there ? place.take : null };
}
