/** The selected piece if it is of a wanted kind; else the first that is. */
import type { KitState } from '../../api/calls';
import { useKit } from '../../app/kit/kitStore';
import { usePlace } from '../../app/kit/place';

/** The selected piece, or the hats for pedal settings. */
export function usePieceHere(wanted: (piece: { family: string }) => boolean) {
  const kit = useKit((s) => s.kit) as KitState;
  const pieces = useKit((s) => s.pieces);
  const place = usePlace((s) => s.piece);
  const all = kit.order.flatMap((id) => pieces.get(id) ?? []);
  const looked = all.find((piece) => piece.id === place);
  return looked && wanted(looked) ? looked : (all.find(wanted) ?? null);
}
