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
  /** How loud the piece was recorded in this microphone, in dB against its own. */
  recorded_db: number;
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
        piece.heard_by.map((mic, at) => {
          const recorded_db = piece.heard_db?.[at] ?? 0;
          const of = fed.get(key(piece.id, mic)) ?? { level_db: 0, on: false, channels: [] };
          return [mic, { piece: piece.id, mic, own: piece.own_mics.includes(mic), recorded_db, ...of }];
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

/** Where the shades of cells end, in dB against the piece's own microphone, lightest first. */
const SHADES_DB = [-30, -21, -14, -8, -3];

/** The step of a cell's shade, 0 to 5: darkest where a piece was recorded as loud as in its own microphone. */
export const shadeOf = (recorded_db: number) => SHADES_DB.filter((db) => recorded_db > db).length;
