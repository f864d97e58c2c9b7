/** The play table as the player holds it: the head, and each piece's part by id. */
import type { PlayArticulation, PlayHead, PlayPiece } from '../api/calls';

export interface Table {
  head: PlayHead;
  pieces: Map<string, PlayPiece>;
  articulations: Map<string, { piece: PlayPiece; articulation: PlayArticulation }>;
}

export function tableOf(head: PlayHead, pieces: Iterable<PlayPiece>): Table {
  const table: Table = { head, pieces: new Map(), articulations: new Map() };
  for (const piece of pieces) {
    table.pieces.set(piece.id, piece);
    for (const articulation of piece.articulations) table.articulations.set(articulation.id, { piece, articulation });
  }
  return table;
}
