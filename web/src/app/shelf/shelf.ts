/** What is kept under a name, of one kind: shown, kept, renamed, copied, removed and brought back. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { type CardOf, get, post, put, remove, type ShelfKind, type ValueOf } from '../../api/calls';
import { useKit } from '../kit/kitStore';

export interface Shelf<K extends ShelfKind> {
  cards: CardOf<K>[];
  /** Does something to the shelf and shows it anew; gives the sentence where it was refused. */
  doing: (act: () => Promise<unknown>) => Promise<string | null>;
  /** The same, where a sentence is said as any trouble is. */
  asking: (act: () => Promise<unknown>) => Promise<void>;
  keep: (name: string, value: ValueOf<K>) => Promise<unknown>;
  rename: (card: CardOf<K>, name: string) => Promise<unknown>;
  duplicate: (card: CardOf<K>) => Promise<unknown>;
  remove: (card: CardOf<K>) => Promise<unknown>;
  /** What was removed or replaced last, and the way to bring it back. */
  gone: { name: string; said: string; value: ValueOf<K>; instead: string | null } | null;
  /** A card is about to lose its value to another. */
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
