/** The similarity of strikes, now and before the last change. */
import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import { type Articulation, get, type KitState } from '../../api/calls';
import { useKit } from '../../app/kit/kitStore';

export interface Alike {
  layers: (number | null)[];
  /** The values before the last change, if they differ. */
  was: (number | null)[] | null;
}

/** The similarity now, and before the last change of round robin, takes or trims. */
export function useSameness(articulation: Articulation): Alike | null {
  const kit = useKit((s) => (s.kit as KitState).id);
  const what = JSON.stringify([
    articulation.layers.map((l) => [l.takes, l.order]),
    articulation.takes.map((t) => [t.enabled, t.tune_cents, t.start_trim_ms]),
    articulation.variation,
  ]);
  const before = useRef<{ articulation: string; now: (number | null)[]; was: (number | null)[] | null } | null>(null);
  const { data } = useQuery({
    queryKey: ['sameness', kit, articulation.id, what],
    queryFn: () => get('/api/kits/{kit_id}/sameness', { kit_id: kit, articulation: articulation.id }),
    staleTime: Number.POSITIVE_INFINITY,
    placeholderData: (last, query) => (query?.queryKey[2] === articulation.id ? last : undefined),
    retry: false,
  });
  useEffect(() => {
    if (!data || (before.current?.articulation === articulation.id && before.current.now === data.layers)) return;
    const was = before.current?.articulation === articulation.id ? before.current.now : null;
    before.current = { articulation: articulation.id, now: data.layers, was };
  }, [data, articulation.id]);
  if (!data) return null;
  const held = before.current?.articulation === articulation.id ? before.current : null;
  return { layers: data.layers, was: held?.now === data.layers ? held.was : (held?.now ?? null) };
}
