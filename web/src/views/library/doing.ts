/** Doing something to things of the library: what comes of it is said, and everything shown is looked up again. */
import { useQueryClient } from '@tanstack/react-query';
import { useCallback } from 'react';
import { create } from 'zustand';
import { lookAgain } from './hearing';

interface Told {
  said: string | null;
  /** Whether it went wrong. */
  wrong: boolean;
  /** Takes it back. */
  undo: (() => Promise<void>) | null;
}

export const useTold = create<Told>(() => ({ said: null, wrong: false, undo: null }));

export const tell = (said: string | null, wrong = false) => useTold.setState({ said, wrong, undo: null });

/** Does something and shows everything anew; gives what came of it, null where it was refused and said. */
export function useDoing() {
  const queries = useQueryClient();
  return useCallback(
    async <T>(act: () => Promise<T>): Promise<T | null> => {
      let came: T | null = null;
      try {
        came = await act();
        tell(null);
      } catch (error) {
        tell((error as Error).message, true);
      }
      for (const queryKey of [['library'], ['kits'], ['room'], ['shelf'], ['grooves'], ['versions']]) {
        await queries.invalidateQueries({ queryKey });
      }
      lookAgain();
      return came;
    },
    [queries],
  );
}
