/** Layers reached: counts by incoming velocity and the share of each layer, live or from a groove. */

import { useQuery } from '@tanstack/react-query';
import { useEffect, useMemo, useState } from 'react';
import { create } from 'zustand';
import { type Articulation, type KitState, type Piece, post } from '../../api/calls';
import { count } from '../../app/kit/format';
import { pieceIdOf, useKit } from '../../app/kit/kitStore';
import { useGrooves } from '../../app/playing/grooves';
import { useStrikes } from '../../app/playing/strikes';
import { layerColour } from '../../ui/colours';
import { Pick } from '../../ui/Pick';

const useSource = create<{ groove: number }>(() => ({ groove: 0 }));
const EVERY_MS = 250;

/** The core's evaluation of the strikes, requested a moment after a strike and repeatedly while they go on. */
export function useReach(articulation: Articulation | null) {
  const kit = useKit((s) => s.kit) as KitState;
  const groove = useSource((s) => s.groove);
  const [settled, setSettled] = useState(useStrikes.getState().struck);
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    const settle = () => {
      timer = undefined;
      setSettled(useStrikes.getState().struck);
    };
    settle();
    const stop = useStrikes.subscribe((now, before) => {
      if (now.struck !== before.struck) timer ??= setTimeout(settle, EVERY_MS);
    });
    return () => {
      stop();
      clearTimeout(timer);
    };
  }, []);
  const piece = pieceIdOf(articulation?.id);
  const strikes = useMemo(
    () => [...settled.values()].filter((one) => pieceIdOf(one.articulation) === piece),
    [settled, piece],
  );
  const total = strikes.reduce((sum, one) => sum + one.times, 0);
  return useQuery({
    queryKey: ['reach', kit.id, kit.version, articulation?.id, groove, groove ? 0 : total, groove ? 0 : strikes.length],
    queryFn: () =>
      post(
        '/api/kits/{kit_id}/reach',
        { kit_id: kit.id },
        {
          articulation: (articulation as Articulation).id,
          strikes: groove ? [] : strikes,
          groove: groove || null,
        },
      ),
    enabled: articulation !== null && (groove > 0 || total > 0),
    placeholderData: (before, query) =>
      groove > 0 || total > 0 ? (query?.queryKey[3] === articulation?.id ? before : undefined) : undefined,
  });
}

interface ReachProps {
  piece: Piece;
  articulation: Articulation;
  reached: ReturnType<typeof useReach>;
}

export function Reach({ piece, articulation, reached }: ReachProps) {
  const { data: grooves = [] } = useGrooves();
  const groove = useSource((s) => s.groove);
  const reset = useStrikes((s) => s.reset);
  const some = useStrikes((s) => s.struck.size > 0);
  const live = groove === 0;
  const reach = live && !some ? undefined : reached.data?.reach;
  const counts = articulation.layers.map((_, k) => reach?.layers[k] ?? 0);
  const most = Math.max(1, ...counts);
  const total = reach?.total ?? 0;
  return (
    <section className="grid gap-1" aria-label="Layers reached by strikes">
      <span className="flex items-center justify-between gap-2">
        <h2 className="head">Layers reached</h2>
        <Pick
          label="Strikes of"
          value={groove}
          options={[{ value: 0, name: 'my playing' }, ...grooves.map((g) => ({ value: g.id, name: g.name }))]}
          onChange={(id) => useSource.setState({ groove: id })}
          className="max-w-[130px]"
        />
      </span>
      <p className="text-tiny text-soft" data-testid="reach-said">
        {total
          ? `${count(total, 'strike')} of ${piece.name}${reach && reach.of_shown < total ? ` (${reach.of_shown} of ${articulation.name}, counted here)` : ''}, the hardest in at ${reach?.hardest_in}${reach?.ignored ? `; ${reach.ignored} ignored` : ''}`
          : live
            ? 'Play it to see which layers you reach.'
            : `This groove does not strike ${piece.name}.`}
      </p>
      {[...counts.keys()].reverse().map((number) => (
        <span
          key={number}
          className="grid grid-cols-[16px_1fr_72px] items-center gap-2"
          data-layer-reach={counts[number]}
        >
          <span className="num text-faint">{number + 1}</span>
          <span className="h-3 rounded-sm bg-sunk">
            <span
              className="block h-full rounded-sm"
              style={{
                width: `${((counts[number] ?? 0) / most) * 100}%`,
                background: layerColour(number, counts.length),
              }}
            />
          </span>
          <span className="num text-right whitespace-nowrap">
            {counts[number]}
            <span className="inline-block w-[44px] text-faint">
              {reach?.of_shown ? `${Math.round(((counts[number] ?? 0) / reach.of_shown) * 100)} %` : ''}
            </span>
          </span>
        </span>
      ))}
      {live && some && (
        <button type="button" className="link justify-self-start text-small" onClick={reset}>
          Reset the count
        </button>
      )}
    </section>
  );
}
