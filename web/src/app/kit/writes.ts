/**
 * A write request from a view: whether it is in progress, where a refusal is shown, and which queries are refreshed.
 */
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useKit } from './kitStore';

interface How {
  /** The first words of the query keys to refresh afterwards, refused or not. */
  changes?: string[];
  /** Where a refusal is shown; by default as any error. */
  refused?: (sentence: string) => void;
}

interface Write<Asked extends unknown[]> {
  busy: boolean;
  send: (...asked: Asked) => Promise<void>;
}

export function useWrite<Asked extends unknown[]>(
  write: (...asked: Asked) => Promise<unknown>,
  how: How = {},
): Write<Asked> {
  const queries = useQueryClient();
  const { isPending, mutateAsync } = useMutation({
    mutationFn: (asked: Asked) => write(...asked),
    onError: (error) => (how.refused ?? useKit.getState().say)(error.message),
    onSettled: () => Promise.all((how.changes ?? []).map((key) => queries.invalidateQueries({ queryKey: [key] }))),
  });
  return {
    busy: isPending,
    // Errors are shown above; callers only await the end.
    send: (...asked) =>
      mutateAsync(asked).then(
        () => undefined,
        () => undefined,
      ),
  };
}
