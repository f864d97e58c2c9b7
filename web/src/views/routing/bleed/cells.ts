/** Each piece's level in each microphone, read from the feeds; and keyboard navigation among the cells. */
import type { KitState, Piece } from '../../../api/calls';

export interface Cell {
  piece: string;
  mic: string;
  /** It is one of the piece's own microphones. */
  own: boolean;
  /** The level of its first feed; −∞ if it has none. */
  level_db: number;
  on: boolean;
  channels: string[];
}

const key = (piece: string, mic: string) => `${piece}\n${mic}`;

/** The cells that have a recording, by piece and microphone. */
export function cellsOf(kit: KitState, pieces: Iterable<Piece>): Map<string, Map<string, Cell>> {
  const fed = new Map<string, { level_db: number; on: boolean; channels: string[] }>();
  for (const channel of kit.head.channels) {
    for (const { piece, mic, level_db, on } of channel.feeds) {
      const known = fed.get(key(piece, mic));
      if (known) {
        known.channels.push(channel.id);
        known.on ||= on;
      } else fed.set(key(piece, mic), { level_db, on, channels: [channel.id] });
    }
  }
  return new Map(
    [...pieces].map((piece) => [
      piece.id,
      new Map(
        piece.heard_by.map((mic) => {
          const of = fed.get(key(piece.id, mic)) ?? { level_db: 0, on: false, channels: [] };
          return [mic, { piece: piece.id, mic, own: piece.own_mics.includes(mic), ...of }];
        }),
      ),
    ]),
  );
}

/** The microphones with recordings: those of single pieces in the pieces' order, then the shared ones. */
export const micsHeard = (kit: KitState, pieces: readonly Piece[]) => {
  const close = pieces.flatMap((piece) => piece.own_mics);
  const heard = new Set([...close, ...pieces.flatMap((piece) => piece.heard_by)]);
  const known = new Map(kit.head.mics.map((mic) => [mic.id, mic]));
  const shared = [...heard].filter((id) => known.get(id)?.kind !== 'close');
  return [...heard]
    .filter((id) => !shared.includes(id))
    .concat(shared)
    .flatMap((id) => known.get(id) ?? []);
};

/** The next cell with a recording in a row; null at its end. */
export function besides(row: ReadonlyMap<string, Cell>, mics: readonly string[], from: string, by: 1 | -1) {
  for (let at = mics.indexOf(from) + by; at >= 0 && at < mics.length; at += by) {
    if (row.has(mics[at] as string)) return mics[at] as string;
  }
  return null;
}

/** How full a cell is drawn, 0 to 1. */
export const drawn = (cell: Cell, law: { to: (db: number) => number }) =>
  Math.max(0, Math.min(1, law.to(cell.level_db)));
