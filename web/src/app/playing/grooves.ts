/** The grooves, the current one, and the transport as React state. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useSyncExternalStore } from 'react';
import { get } from '../../api/calls';
import { transport, useKit } from '../kit/kitStore';

export const useGrooves = () => useQuery({ queryKey: ['grooves'], queryFn: () => get('/api/grooves', {}) });

export function useTransport<T>(read: () => T): T {
  return useSyncExternalStore((listener) => transport.onChange(listener), read);
}

export function useChooseGroove() {
  const queries = useQueryClient();
  return useCallback(
    async (id: number) => {
      try {
        transport.choose(
          await queries.fetchQuery({
            queryKey: ['groove', id],
            queryFn: () => get('/api/grooves/{groove_id}', { groove_id: id }),
          }),
        );
      } catch (error) {
        useKit.getState().say((error as Error).message);
      }
    },
    [queries],
  );
}

/** A groove is selected from the start, so that the space bar works in every step. */
export function useGrooveAtHand() {
  const choose = useChooseGroove();
  const first = useGrooves().data?.[0]?.id;
  useEffect(() => {
    if (first !== undefined && !transport.groove) void choose(first);
  }, [first, choose]);
}
