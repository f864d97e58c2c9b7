/** Saved items of one kind: listed, saved, renamed, copied, deleted and restored. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { type CardOf, get, post, put, remove, type ShelfKind, type ValueOf } from '../../api/calls';
import { useKit } from '../kit/kitStore';

export interface Shelf<K extends ShelfKind> {
  cards: CardOf<K>[];
  /** Runs a change and refreshes the list; returns the sentence of a refusal. */
  doing: (act: () => Promise<unknown>) => Promise<string | null>;
  /** The same, with the sentence shown like any error. */
  asking: (act: () => Promise<unknown>) => Promise<void>;
  keep: (name: string, value: ValueOf<K>) => Promise<unknown>;
  rename: (card: CardOf<K>, name: string) => Promise<unknown>;
  duplicate: (card: CardOf<K>) => Promise<unknown>;
  remove: (card: CardOf<K>) => Promise<unknown>;
  /** What was deleted or replaced last, and how to restore it. */
  gone: { name: string; said: string; value: ValueOf<K>; instead: string | null } | null;
  /** An item is about to be replaced. */
  replaced: (card: CardOf<K>, said: string) => void;
  bringBack: () => Promise<unknown>;
}

export function useShelf<K extends ShelfKind>(kind: K): Shelf<K> {
  const queries = useQueryClient();
  const address = `/api/shelves/${kind}` as '/api/shelves/curves';
  const known = `${address}/{kept_id}` as '/api/shelves/curves/{kept_id}';
  const [gone, setGone] = useState<Shelf<K>['gone']>(null);
  const { data } = useQuery({
    queryKey: ['shelf', kind],
    queryFn: () => get(address, {}) as Promise<unknown> as Promise<CardOf<K>[]>,
  });
  const keep = (name: string, value: ValueOf<K>) => post(address, {}, { name, value: value as ValueOf<'curves'> });
  const lost = ({ name, value }: CardOf<K>, said: string, instead: string | null) =>
    setGone(value === null ? null : { name, said, value: value as ValueOf<K>, instead });
  const doing = async (act: () => Promise<unknown>) => {
    let refused: string | null = null;
    try {
      await act();
    } catch (error) {
      refused = (error as Error).message;
    }
    await queries.invalidateQueries({ queryKey: ['shelf', kind] });
    return refused;
  };
  return {
    cards: data ?? [],
    doing,
    asking: async (act) => {
      const refused = await doing(act);
      if (refused) useKit.getState().say(refused);
    },
    keep,
    rename: (card, name) => post(`${known}/rename`, { kept_id: card.id }, { name }),
    duplicate: (card) => post(`${known}/duplicate`, { kept_id: card.id }),
    remove: async (card) => {
      await remove(known, { kept_id: card.id });
      lost(card, `${card.name} was deleted.`, null);
    },
    gone,
    replaced: (card, said) => lost(card, said, card.id),
    bringBack: async () => {
      if (!gone) return;
      if (gone.instead) await put(known, { kept_id: gone.instead }, gone.value as ValueOf<'curves'>);
      else await keep(gone.name, gone.value);
      setGone(null);
    },
  };
}
