/** Loudness figures: requested from the studio, which measures unknown ones, and requested again after an edit. */
import { useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { type AsItWas, type Figure, type FigureAsked, post } from '../../api/calls';
import { useKit } from '../kit/kitStore';

const ASKED_EVERY_MS = 300;
/** Edits come in quick succession while a control is turned; only the last state is measured. */
const SETTLED_MS = 500;

function useSettled<T>(value: T, ms: number): T {
  const [settled, settle] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => settle(value), ms);
    return () => clearTimeout(timer);
  }, [value, ms]);
  return settled;
}

export interface FigureNow {
  /** The last known figure, which may be of the kit before the latest edit. */
  figure: Figure | null;
  measuring: boolean;
  /** Why there is none. */
  said: string;
}

/** A figure of the current kit; null requests nothing. */
export function useFigure(of: FigureAsked | null): FigureNow {
  const kitId = useKit((s) => s.kit?.id);
  const version = useKit((s) => s.kit?.version);
  const settled = useSettled(version, SETTLED_MS);
  const [last, keep] = useState<{ what: string; figure: Figure } | null>(null);
  const what = `${kitId} ${JSON.stringify(of)}`;
  const { data, error } = useQuery({
    queryKey: ['figure', kitId, of, settled],
    queryFn: () =>
      post(
        '/api/kits/{kit_id}/figures',
        { kit_id: kitId as string },
        { of: of as FigureAsked, again: false, as_it_was: null },
      ),
    enabled: of !== null && kitId !== undefined,
    refetchInterval: (query) => (query.state.data?.state === 'measuring' ? ASKED_EVERY_MS : false),
  });
  const known = data?.state === 'known' ? data.figure : null;
  useEffect(() => {
    if (known) keep({ what, figure: known });
  }, [known, what]);
  return {
    figure: known ?? (last?.what === what ? last.figure : null),
    measuring: of !== null && (settled !== version || (!data && !error) || data?.state === 'measuring'),
    said: error
      ? error.message
      : data?.state === 'failed'
        ? data.said
        : data?.away
          ? 'Waiting for the studio’s worker, which is not responding.'
          : '',
  };
}

/** One figure of the current or an earlier version. Throws the sentence why there is none. */
export async function figureOf(of: FigureAsked, was: AsItWas | null = null): Promise<Figure> {
  const { kit } = useKit.getState();
  if (!kit) throw new Error('No kit is open.');
  for (let again = true; ; again = false) {
    const shown = await post('/api/kits/{kit_id}/figures', { kit_id: kit.id }, { of, again, as_it_was: was });
    if (shown.figure) return shown.figure;
    if (shown.state === 'failed') throw new Error(shown.said);
    await new Promise((done) => setTimeout(done, ASKED_EVERY_MS));
  }
}
