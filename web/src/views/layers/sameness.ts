/** How alike one strike is to the next, as it is and as it was. */
import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import { type Articulation, get, type KitState } from '../../api/calls';
import { useKit } from '../../app/kit/kitStore';

export interface Alike {
  layers: (number | null)[];
  /** What they were before the last change, where that differs. */
  was: (number | null)[] | null;
}

/** How alike strikes are now, and before the last change of order, takes or trims. */
export function useSameness(stroke: Articulation): Alike | null {
  const kit = useKit((s) => (s.kit as KitState).id);
  const what = JSON.stringify([
    stroke.layers.map((l) => [l.takes, l.order]),
    stroke.takes.map((t) => [t.enabled, t.tune_cents, t.start_trim_ms]),
    stroke.variation,
  ]);
  const before = useRef<{ stroke: string; now: (number | null)[]; was: (number | null)[] | null } | null>(null);
  const { data } = useQuery({
    queryKey: ['sameness', kit, stroke.id, what],
    queryFn: () => get('/api/kits/{kit_id}/sameness', { kit_id: kit, articulation: stroke.id }),
    staleTime: Number.POSITIVE_INFINITY,
    placeholderData: (last, query) => (query?.queryKey[2] === stroke.id ? last : undefined),
    retry: false,
  });
  useEffect(() => {
    if (!data || (before.current?.stroke === stroke.id && before.current.now === data.layers)) return;
    const was = before.current?.stroke === stroke.id ? before.current.now : null;
    before.current = { stroke: stroke.id, now: data.layers, was };
  }, [data, stroke.id]);
  if (!data) return null;
  const held = before.current?.stroke === stroke.id ? before.current : null;
  return { layers: data.layers, was: held?.now === data.layers ? held.was : (held?.now ?? null) };
}
