/**
 * Pieces on the clipboard and in drags: within a kit, between kits, tabs and windows, and to and from the library. Only
 * the location of the piece is transferred, never the piece.
 */
import { useEffect } from 'react';
import { create } from 'zustand';
import { post, type SourceOf } from '../../api/calls';
import { type How, lookAtPiece, openBringPiece } from '../bringing/bringing';
import { useKit } from '../kit/kitStore';
import { lookedAt } from '../kit/place';
import { queries } from '../kit/queries';
import { typing } from '../shell/keyboard';

export const PIECE = 'application/x-zesty-piece';

export interface Carried {
  source: SourceOf;
  name: string;
}

/** Put a piece on a clipboard or drag; other programs get its name. */
export function carry(transfer: DataTransfer, carried: Carried) {
  transfer.setData(PIECE, JSON.stringify(carried));
  transfer.setData('text/plain', carried.name);
}

export const holdsPiece = (transfer: DataTransfer | null) => transfer?.types.includes(PIECE) ?? false;

/** The piece on a clipboard or drag; null if there is none of ours. */
export function carriedBy(transfer: DataTransfer | null): Carried | null {
  try {
    const found = JSON.parse(transfer?.getData(PIECE) ?? '') as Carried;
    const { kind, id } = found.source;
    return ['kits', 'sessions', 'pieces'].includes(kind) && typeof id === 'string' ? found : null;
  } catch {
    return null;
  }
}

/** A piece arrived: one of this kit is duplicated, any other opens the dialog that brings it in. */
export async function arrived(carried: Carried, how: How = 'own', beside = '', note: number | null = null) {
  const { kit, edit, pieces } = useKit.getState();
  const { source, name } = carried;
  if (!kit) return;
  if (source.kind === 'kits' && source.id === kit.id && how === 'own') {
    if (pieces.has(source.piece ?? '')) await edit({ kind: 'duplicate_piece', piece: source.piece ?? '' });
    return;
  }
  openBringPiece(how, beside, { find: name, note });
  await lookAtPiece({ source: { ...source, piece: source.piece ?? '' } });
}

/** A piece for a kit that is not open yet. */
const useWaiting = create<{ kit: string; carried: Carried | null }>(() => ({ kit: '', carried: null }));

export const carryInto = (kit: string, carried: Carried) => useWaiting.setState({ kit, carried });

/** Copies the selected piece, for buttons. */
export const copyLooked = () => document.execCommand('copy');

export const copies = (event: ClipboardEvent) =>
  event.clipboardData && !typing(event.target) && !document.querySelector('[role="dialog"]')
    ? event.clipboardData
    : null;

/** Copy and paste in a kit: copies the selected piece, opens a pasted one. */
export function useCarriedPieces() {
  const open = useKit((s) => s.kit?.id);
  const waiting = useWaiting();
  useEffect(() => {
    if (!waiting.carried || waiting.kit !== open) return;
    useWaiting.setState({ carried: null });
    void arrived(waiting.carried);
  }, [waiting, open]);
  useEffect(() => {
    const copy = (event: ClipboardEvent) => {
      const transfer = copies(event);
      const { kit } = useKit.getState();
      const { piece } = lookedAt();
      // Only where the selected piece is visible.
      const onShelf = document.querySelector('[data-shelf] [aria-current="true"]');
      if (!transfer || !kit || !piece || !onShelf || window.getSelection()?.toString()) return;
      event.preventDefault();
      carry(transfer, { source: { kind: 'kits', id: kit.id, piece: piece.id }, name: piece.name });
    };
    const paste = (event: ClipboardEvent) => {
      const carried = carriedBy(copies(event));
      if (!carried) return;
      event.preventDefault();
      void arrived(carried);
    };
    window.addEventListener('copy', copy);
    window.addEventListener('paste', paste);
    return () => {
      window.removeEventListener('copy', copy);
      window.removeEventListener('paste', paste);
    };
  }, []);
}

/** Save a piece of a kit in the library; returns its name. Throws the sentence if that is refused. */
export async function keptInLibrary(source: SourceOf, name: string): Promise<string> {
  const kept = await post(
    '/api/kits/{kit_id}/pieces/{piece_id}/keep',
    { kit_id: source.id, piece_id: source.piece ?? '' },
    { name },
  );
  await queries.invalidateQueries({ queryKey: ['library'] });
  return kept.name;
}
