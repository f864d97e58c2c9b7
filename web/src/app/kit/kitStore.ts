/** The current kit, its edits on their way, and its player. */
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
} from '../../api/calls';
import { Player } from '../../player/player';
import { Transport } from '../../player/transport';
import { useKeeping } from '../../ui/gestures';
import { useStrikes } from '../playing/strikes';
import { newMark, remember, remembered, type Waiting } from './waiting';

interface OnItsWay extends Waiting {
  done: (error: Refused | null) => void;
}

interface KitStore {
  kit: KitState | null;
  pieces: Map<string, Piece>;
  player: Player | null;
  missing: string | null;
  /** A kit that could not be opened because nothing responded; it is opened when the studio is back. */
  wanted: string | null;
  trouble: string | null;
  /** Says that a copy is open because the kit that was changed ships. */
  copied: string | null;
  open: (id: string) => Promise<void>;
  close: () => void;
  edit: (edit: Edit, gesture?: string) => Promise<Refused | null>;
  undo: () => Promise<void>;
  redo: () => Promise<void>;
  /** Takes in a response about a kit, or about the copy made of it. */
  take: (state: KitState, of: string) => void;
  /** A copy was made of the open kit and takes its place. */
  moveTo: (id: string) => Promise<void>;
  /** The studio is back: send waiting edits, repeat failed requests. */
  resume: () => Promise<void>;
  /** A kit is at this version: refresh it if somebody else made it. */
  follow: (id: string, version: number) => Promise<void>;
  say: (trouble: string | null) => void;
  /** The kit's notices have been read. */
  told: () => Promise<void>;
}

const DRAWN_MS = 120;
/** Statuses that say nothing about the edit: no response, or no room or time to save it. */
const AWAY = [0, 502, 503, 504, 507];

/** Resolves once the browser has drawn, or has had no chance to for long. */
const drawn = () =>
  new Promise<void>((resolve) => {
    if ('requestIdleCallback' in window) window.requestIdleCallback(() => resolve(), { timeout: DRAWN_MS });
    else requestAnimationFrame(() => setTimeout(resolve));
  });

const playPieces = new Map<string, PlayPiece>();
const queue: OnItsWay[] = [];
/** What has been sent and not answered. */
let flying: OnItsWay | null = null;
/** Each kit's version in the studio's last response: edits still waiting when a kit is left are sent too. */
const versions = new Map<string, number>();
let sending = false;
let opening = 0;
/** How many responses were taken in. */
let taken = 0;
/** The kit being refreshed after somebody else's change: one request at a time. */
let asking: string | null = null;
queue.push(...remembered().map((waiting) => ({ ...waiting, done: () => undefined })));

export const useKit = create<KitStore>((set, read) => {
  /** Take a response in, unless another kit was opened meanwhile. */
  const merge = (state: KitState, entirely: boolean, of = state.id) => {
    taken += 1;
    versions.set(state.id, state.version);
    const moved = of !== state.id;
    if (!entirely && read().kit?.id !== of) return;
    const whole = entirely || moved;
    if (moved) set({ copied: state.copied });
    const pieces = whole ? new Map<string, Piece>() : new Map(read().pieces);
    if (whole) playPieces.clear();
    // Unchanged objects keep their identity, so that they are not drawn again.
    for (const piece of state.pieces) pieces.set(piece.id, replaceEqualDeep(pieces.get(piece.id), piece));
    for (const piece of state.play_pieces) playPieces.set(piece.id, piece);
    for (const id of [...pieces.keys()]) if (!state.order.includes(id)) pieces.delete(id);
    for (const id of [...playPieces.keys()]) if (!state.order.includes(id)) playPieces.delete(id);
    set({ kit: { ...state, head: replaceEqualDeep(read().kit?.head, state.head) }, pieces });
    read().player?.update(state.play_head, playPieces.values(), state.play_pieces);
  };

  /** The current kit. A response overtaken by an edit is dropped, because it may lack that edit. */
  const refetch = async () => {
    const id = read().kit?.id;
    if (!id) return;
    const before = taken;
    const state = await get('/api/kits/{kit_id}', { kit_id: id });
    if (read().kit?.id === id && taken === before) merge(state, true);
  };

  const step = (which: 'undo' | 'redo') =>
    new Promise<void>((resolve) => {
      const kit = read().kit?.id;
      if (!kit) return resolve();
      queue.push({ kit, edit: which, gesture: '', mark: newMark(), done: () => resolve() });
      keep();
      void drain();
    });

  const keep = () => {
    const all = flying ? [flying, ...queue] : queue;
    remember(all, (kit) => versions.get(kit));
    useKeeping.setState({ waiting: all.length });
  };

  const send = async ({ kit: id, edit, gesture, mark, base }: Waiting) => {
    const { kit } = read();
    const base_version = base ?? versions.get(id) ?? 0;
    let state: KitState;
    if (edit === 'undo' || edit === 'redo') {
      if (kit?.id === id && !kit[edit]) return;
      state = await post(`/api/kits/{kit_id}/${edit}`, { kit_id: id }, { base_version });
    } else state = await post('/api/kits/{kit_id}/edits', { kit_id: id }, { base_version, edit, gesture, mark });
    merge(state, false, id);
    // Waiting edits follow this one, into the copy if one was made.
    for (const later of queue) {
      if (later.kit !== id) continue;
      later.kit = state.id;
      delete later.base;
    }
  };

  const drain = async () => {
    if (sending) return;
    sending = true;
    useKeeping.setState({ keeping: true });
    while (queue.length) {
      // During a drag, an edit is sent when the last response has been drawn; meanwhile only the latest one waits.
      if (queue[0]?.gesture) {
        read().player?.sounds.ease();
        await drawn();
      }
      const waiting = queue.shift();
      if (!waiting) break;
      flying = waiting;
      keep();
      try {
        await send(waiting);
        flying = null;
        waiting.done(null);
      } catch (error) {
        flying = null;
        const refused = error instanceof Refused ? error : new Refused('The edit could not be sent.', 0);
        if (AWAY.includes(refused.status)) {
          // It waits and is sent again when the studio is back: nothing is lost, nothing is made twice.
          queue.unshift({ ...waiting, base: waiting.base ?? versions.get(waiting.kit) ?? 0 });
          useKeeping.setState({ away: refused.status === 507 ? 'full' : 'gone' });
          break;
        }
        if (refused.status === 409 && read().kit?.id === waiting.kit) await refetch().catch(() => undefined);
        // A repeated undo or redo may have been made the first time; then its result is already there.
        const madeBefore = refused.status === 409 && waiting.base !== undefined && typeof waiting.edit === 'string';
        if (!refused.occupied && !madeBefore) set({ trouble: refused.message });
        waiting.done(refused);
      }
    }
    sending = false;
    keep();
    useKeeping.setState({ keeping: queue.length > 0 });
  };

  return {
    kit: null,
    pieces: new Map(),
    player: null,
    missing: null,
    wanted: null,
    trouble: null,
    copied: null,

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
            set({ trouble: 'Treatments could not be loaded, so channels play without them. Open the kit again.' });
        });
        set({ player, missing: null, wanted: null, trouble: null });
        merge(state, true);
        void drain();
      } catch (error) {
        if (mine !== opening) return;
        const away = error instanceof Refused && AWAY.includes(error.status);
        if (away) useKeeping.setState({ away: 'gone' });
        set(away ? { wanted: id } : { missing: (error as Error).message });
      }
    },

    resume: async () => {
      const { wanted, player } = read();
      if (wanted) return read().open(wanted);
      player?.sounds.again();
      await drain();
    },

    follow: async (id, version) => {
      if (asking === id || read().kit?.id !== id || sending || queue.length || version === versions.get(id)) return;
      asking = id;
      await refetch().catch(() => undefined);
      if (asking === id) asking = null;
    },

    close: () => {
      transport.stop();
      read().player?.close();
      useStrikes.getState().clear();
      set({ kit: null, pieces: new Map(), player: null, missing: null, wanted: null, copied: null });
    },

    edit: (edit, gesture = '') =>
      new Promise((resolve) => {
        const kit = read().kit?.id;
        if (!kit) return resolve(new Refused('No kit is open.', 0));
        // Of one gesture's waiting edits only the latest matters; one that was sent may have been made.
        const last = queue[queue.length - 1];
        if (gesture && last?.gesture === gesture && last.base === undefined) {
          last.done(null);
          queue.pop();
        }
        queue.push({ kit, edit, gesture, mark: newMark(), done: resolve });
        keep();
        void drain();
      }),

    undo: () => step('undo'),
    redo: () => step('redo'),
    take: (state, of) => merge(state, false, of),
    moveTo: async (id) => {
      const from = read().kit?.id;
      if (!from || from === id) return;
      merge(await get('/api/kits/{kit_id}', { kit_id: id }), false, from);
    },
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

export function articulationIn(
  pieces: Map<string, Piece>,
  id: string,
): { piece: Piece; articulation: Articulation } | null {
  for (const piece of pieces.values()) {
    const articulation = piece.articulations.find((a) => a.id === id);
    if (articulation) return { piece, articulation };
  }
  return null;
}

/** The piece that an articulation belongs to now, by id. */
export const pieceIdOf = (articulation: string | null | undefined): string | null =>
  articulation ? (articulationIn(useKit.getState().pieces, articulation)?.piece.id ?? null) : null;

export const notesOf = (head: KitState['head'], articulation: string) =>
  [...new Set(head.placed.filter((p) => p.articulation === articulation).map((p) => p.note))].sort((a, b) => a - b);
