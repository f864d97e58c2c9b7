/** The kit as it stands, its edits on their way, and the player that plays it. */
import { replaceEqualDeep } from '@tanstack/react-query';
import { create } from 'zustand';
import {
  type Articulation,
  type Edit,
  get,
  type KitState,
  type Piece,
  type PlayPiece,
  post,
  Refused,
} from '../api/calls';
import { Player } from '../player/player';
import { Transport } from '../player/transport';
import { useKeeping } from '../ui/gestures';
import { useStrikes } from './strikes';

/** An edit, an undo or a redo on its way; they are sent one after another, in the order they were asked for. */
interface Waiting {
  kit: string;
  edit: Edit | 'undo' | 'redo';
  gesture: string;
  done: (error: Refused | null) => void;
}

interface KitStore {
  kit: KitState | null;
  pieces: Map<string, Piece>;
  player: Player | null;
  missing: string | null;
  trouble: string | null;
  open: (id: string) => Promise<void>;
  close: () => void;
  edit: (edit: Edit, gesture?: string) => Promise<Refused | null>;
  undo: () => Promise<void>;
  redo: () => Promise<void>;
  take: (state: KitState) => void;
  say: (trouble: string | null) => void;
  /** What was worth knowing of the kit has been read. */
  told: () => Promise<void>;
}

const DRAWN_MS = 120;

/** When the browser has nothing to draw, or has not come to it for long. */
const drawn = () =>
  new Promise<void>((resolve) => {
    if ('requestIdleCallback' in window) window.requestIdleCallback(() => resolve(), { timeout: DRAWN_MS });
    else requestAnimationFrame(() => setTimeout(resolve));
  });

const playPieces = new Map<string, PlayPiece>();
const queue: Waiting[] = [];
/** The version each kit stood at when the studio last answered: what is still on its way when a kit is left is sent too. */
const versions = new Map<string, number>();
let sending = false;
let opening = 0;

export const useKit = create<KitStore>((set, read) => {
  /** Take an answer in, unless another kit was opened meanwhile. */
  const merge = (state: KitState, whole: boolean) => {
    versions.set(state.id, state.version);
    if (!whole && read().kit?.id !== state.id) return;
    const pieces = whole ? new Map<string, Piece>() : new Map(read().pieces);
    if (whole) playPieces.clear();
    // What an edit left as it was stays the same object, so that nothing of it is drawn again.
    for (const piece of state.pieces) pieces.set(piece.id, replaceEqualDeep(pieces.get(piece.id), piece));
    for (const piece of state.play_pieces) playPieces.set(piece.id, piece);
    for (const id of [...pieces.keys()]) if (!state.order.includes(id)) pieces.delete(id);
    for (const id of [...playPieces.keys()]) if (!state.order.includes(id)) playPieces.delete(id);
    set({ kit: { ...state, head: replaceEqualDeep(read().kit?.head, state.head) }, pieces });
    read().player?.update(state.play_head, playPieces.values(), state.play_pieces);
  };

  const refetch = async () => {
    const id = read().kit?.id;
    if (!id) return;
    const state = await get('/api/kits/{kit_id}', { kit_id: id });
    if (read().kit?.id === id) merge(state, true);
  };

  const step = (which: 'undo' | 'redo') =>
    new Promise<void>((resolve) => {
      const kit = read().kit?.id;
      if (!kit) return resolve();
      queue.push({ kit, edit: which, gesture: '', done: () => resolve() });
      void drain();
    });

  const send = async ({ kit: id, edit, gesture }: Waiting) => {
    const { kit } = read();
    const base_version = versions.get(id) ?? 0;
    if (edit === 'undo' || edit === 'redo') {
      if (kit?.id === id && !kit[edit]) return;
      merge(await post(`/api/kits/{kit_id}/${edit}`, { kit_id: id }, { base_version }), false);
    } else merge(await post('/api/kits/{kit_id}/edits', { kit_id: id }, { base_version, edit, gesture }), false);
  };

  const drain = async () => {
    if (sending) return;
    sending = true;
    useKeeping.setState({ keeping: true });
    while (queue.length) {
      // What a hand drags is sent when the last answer has been drawn; meanwhile only the latest of it waits.
      if (queue[0]?.gesture) {
        read().player?.sounds.ease();
        await drawn();
      }
      const waiting = queue.shift();
      if (!waiting) break;
      try {
        await send(waiting);
        waiting.done(null);
      } catch (error) {
        const refused = error instanceof Refused ? error : new Refused('The edit could not be sent.', 0);
        if (refused.status === 409 && read().kit?.id === waiting.kit) await refetch().catch(() => undefined);
        if (!refused.occupied) set({ trouble: refused.message });
        waiting.done(refused);
      }
    }
    sending = false;
    useKeeping.setState({ keeping: false });
  };

  return {
    kit: null,
    pieces: new Map(),
    player: null,
    missing: null,
    trouble: null,

    open: async (id) => {
      opening += 1;
      const mine = opening;
      read().close();
      try {
        const state = await get('/api/kits/{kit_id}', { kit_id: id });
        if (mine !== opening) return;
        const micsOf = (pieceId: string) => read().pieces.get(pieceId)?.heard_by ?? [];
        const player = new Player(state.play_head, state.play_pieces, micsOf);
        player.onStrike((report) => useStrikes.getState().take(report, player));
        player.strips.catch(() => {
          if (mine === opening)
            set({ trouble: 'Channels sound untreated: that part could not be fetched. Open the kit again.' });
        });
        set({ player, missing: null, trouble: null });
        merge(state, true);
      } catch (error) {
        if (mine === opening) set({ missing: (error as Error).message });
      }
    },

    close: () => {
      transport.stop();
      read().player?.close();
      useStrikes.getState().clear();
      set({ kit: null, pieces: new Map(), player: null, missing: null });
    },

    edit: (edit, gesture = '') =>
      new Promise((resolve) => {
        const kit = read().kit?.id;
        if (!kit) return resolve(new Refused('No kit is open.', 0));
        // Of one gesture's edits only the latest still waiting matters.
        const last = queue[queue.length - 1];
        if (gesture && last?.gesture === gesture) {
          last.done(null);
          queue.pop();
        }
        queue.push({ kit, edit, gesture, done: resolve });
        void drain();
      }),

    undo: () => step('undo'),
    redo: () => step('redo'),
    take: (state) => merge(state, false),
    say: (trouble) => set({ trouble }),

    told: async () => {
      const { kit } = read();
      if (!kit) return;
      set({ kit: { ...kit, notes: [] } });
      await post('/api/kits/{kit_id}/told', { kit_id: kit.id }).catch((error: Error) =>
        set({ trouble: error.message }),
      );
    },
  };
});

export const transport = new Transport(() => useKit.getState().player);

export function articulationIn(pieces: Map<string, Piece>, id: string): { piece: Piece; stroke: Articulation } | null {
  for (const piece of pieces.values()) {
    const stroke = piece.articulations.find((a) => a.id === id);
    if (stroke) return { piece, stroke };
  }
  return null;
}

/** The piece a stroke belongs to now, by identifier. */
export const pieceIdOf = (articulation: string | null | undefined): string | null =>
  articulation ? (articulationIn(useKit.getState().pieces, articulation)?.piece.id ?? null) : null;

export const notesOf = (head: KitState['head'], articulation: string) =>
  [...new Set(head.placed.filter((p) => p.articulation === articulation).map((p) => p.note))].sort((a, b) => a - b);
