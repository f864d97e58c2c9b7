/** What was just struck: the last strike, the tape of the last ones, and how the playing is spread. */
import { create } from 'zustand';
import type { Player, Report } from '../player/player';

export interface Shown {
  at: number;
  source: string;
  note: number | null;
  velocityIn: number;
  velocity: number;
  piece: string;
  pieceId: string;
  articulation: string;
  articulationId: string;
  layer: number;
  layers: number;
  /** Which of the layer's takes, from 1, and its label. */
  take: number;
  label: string;
  takeId: string;
  takes: number;
  substituted: boolean;
  ignored: boolean;
}

const TAPE = 40;

interface Strikes {
  last: Shown | null;
  tape: { velocity: number; ignored: boolean }[];
  /** The last strike of each piece and of each articulation, by identifier. */
  lastOf: Map<string, Shown>;
  /** For each piece, how many strikes came in at each velocity. */
  spread: Map<string, number[]>;
  take: (report: Report, player: Player) => void;
  clear: () => void;
}

let counted = 0;

function shown(report: Report): Shown {
  counted += 1;
  const first = report.soundings[0];
  const layer = first?.articulation.layers[first.layer];
  const members = [...new Set(layer?.steps.flat())].sort((a, b) => a - b);
  const place = first ? members.indexOf(first.articulation.takes.indexOf(first.take)) : -1;
  const names = [...new Set(report.soundings.map((s) => s.piece.name))];
  return {
    at: counted,
    source: report.source,
    note: report.note,
    velocityIn: report.velocityIn,
    velocity: first?.velocity ?? 0,
    piece: names.join(' + '),
    pieceId: first?.piece.id ?? '',
    articulation: first?.articulation.name ?? '',
    articulationId: first?.articulation.id ?? '',
    layer: first?.layer ?? 0,
    layers: first?.articulation.layers.length ?? 0,
    take: place + 1,
    label: first?.take.label ?? '',
    takeId: first?.take.id ?? '',
    takes: members.length,
    substituted: report.substituted,
    ignored: !first,
  };
}

export const useStrikes = create<Strikes>((set) => ({
  last: null,
  tape: [],
  lastOf: new Map(),
  spread: new Map(),
  take: (report, player) => {
    const show = () =>
      set((state) => {
        const last = shown(report);
        const tape = [
          ...state.tape.slice(1 - TAPE),
          { velocity: last.velocity || last.velocityIn, ignored: last.ignored },
        ];
        if (last.ignored) return { last, tape };
        const spread = new Map(state.spread);
        const counts = [...(spread.get(last.pieceId) ?? new Array<number>(128).fill(0))];
        counts[last.velocityIn] = (counts[last.velocityIn] ?? 0) + 1;
        spread.set(last.pieceId, counts);
        const lastOf = new Map(state.lastOf).set(last.pieceId, last).set(last.articulationId, last);
        return { last, tape, spread, lastOf };
      });
    // Groove strikes are scheduled ahead; they are shown when they sound.
    const wait = (report.when - player.context.currentTime) * 1000;
    if (wait > 12) setTimeout(show, wait);
    else queueMicrotask(show);
  },
  clear: () => set({ last: null, tape: [], spread: new Map(), lastOf: new Map() }),
}));
