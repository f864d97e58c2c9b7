/** Recent strikes: the last one, the list of the last ones, and counts for charts. */
import { create } from 'zustand';
import type { Struck } from '../../api/calls';
import type { Player, Report } from '../../player/player';
import type { Why } from '../../player/striker';

export interface Shown {
  at: number;
  /** When it was shown, in ms of performance.now(). */
  time: number;
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
  /** The take's number in its layer, from 1, and its name. */
  take: number;
  label: string;
  takeId: string;
  takes: number;
  substituted: boolean;
  /** How many older sounds were stopped to make room. */
  letGo: number;
  /** False if the take was not loaded, so nothing sounded. */
  loaded: boolean;
  ignored: boolean;
  why: Why;
  /** What a strike that did not sound was meant for. */
  aimed: string | null;
}

const TAPE = 40;

interface Strikes {
  last: Shown | null;
  tape: { velocity: number; ignored: boolean }[];
  /** The last strike of each piece and articulation, by id. */
  lastOf: Map<string, Shown>;
  /**
   * Counts of strikes since the page was opened, by input, articulation and velocity, ignored ones included; and a
   * counter of changes.
   */
  struck: Map<string, Struck>;
  reset: () => void;
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
    time: performance.now(),
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
    letGo: report.letGo,
    loaded: report.loaded,
    ignored: !first,
    why: report.why,
    aimed: report.aimed,
  };
}

/** Counts a strike. Playing a single take does not count. */
function counting(struck: Map<string, Struck>, report: Report): Map<string, Struck> {
  const { source, aimed, velocityIn } = report;
  if (!aimed || source === 'take' || !velocityIn) return struck;
  const key = `${source} ${aimed} ${velocityIn}`;
  const times = (struck.get(key)?.times ?? 0) + 1;
  return new Map(struck).set(key, { input: source, articulation: aimed, velocity: velocityIn, times });
}

export const useStrikes = create<Strikes>((set) => ({
  last: null,
  tape: [],
  lastOf: new Map(),
  struck: new Map(),
  reset: () => set({ struck: new Map() }),
  take: (report, player) => {
    const show = () =>
      set((state) => {
        const last = shown(report);
        const tape = [
          ...state.tape.slice(1 - TAPE),
          { velocity: last.velocity || last.velocityIn, ignored: last.ignored },
        ];
        const struck = counting(state.struck, report);
        if (last.ignored) return { last, tape, struck };
        const lastOf = new Map(state.lastOf).set(last.pieceId, last).set(last.articulationId, last);
        return { last, tape, struck, lastOf };
      });
    // Groove strikes are scheduled ahead; they are shown when they sound.
    const wait = (report.when - player.context.currentTime) * 1000;
    if (wait > 12) setTimeout(show, wait);
    else queueMicrotask(show);
  },
  clear: () => set({ last: null, tape: [], struck: new Map(), lastOf: new Map() }),
}));

/** The last strike of an articulation. Only the components that show it should subscribe. */
export const useHitOf = (articulation: string) => useStrikes((s) => s.lastOf.get(articulation) ?? null);

/** The number of the strike in which a take sounded, if it was its articulation's last; else null. */
export const useHitAt = (articulation: string, take: string) =>
  useStrikes((s) => {
    const last = s.lastOf.get(articulation);
    return last?.takeId === take ? last.at : null;
  });
