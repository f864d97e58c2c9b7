/** Something sent to the studio from a view: whether it is on its way, what is said where it was refused, and what is looked up anew. */
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useKit } from './kitStore';

interface How {
  /** The first words of the query keys that hold something else afterwards, refused or not. */
  changes?: string[];
  /** Where a refusal is said; as any trouble is, unless a view has a place of its own for it. */
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
    // What went wrong is said above; nobody awaits more than the end.
    send: (...asked) =>
      mutateAsync(asked).then(
        () => undefined,
        () => undefined,
      ),
  };
}
