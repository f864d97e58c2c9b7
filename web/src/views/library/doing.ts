/** Actions on library items: their result is shown and everything listed is refreshed. */
import { useQueryClient } from '@tanstack/react-query';
import { useCallback } from 'react';
import { create } from 'zustand';
import { lookAgain } from './hearing';

interface Told {
  said: string | null;
  /** Whether it failed. */
  wrong: boolean;
  /** Undoes it. */
  undo: (() => Promise<void>) | null;
}

export const useTold = create<Told>(() => ({ said: null, wrong: false, undo: null }));

export const tell = (said: string | null, wrong = false) => useTold.setState({ said, wrong, undo: null });

/** Runs an action and refreshes everything; returns its result, null if it was refused and shown. */
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
