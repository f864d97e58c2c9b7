/** The takes: one row per layer, hardest on top, one cell per take; dragged, selected and heard in place. */
import { type KeyboardEvent, memo, useEffect, useRef } from 'react';
import type { Articulation, Layer } from '../../api/calls';
import { useKit } from '../../app/kit/kitStore';
import { Pick } from '../../ui/Pick';
import { COLUMNS, LayerRow } from './LayerRow';
import { ORDERS } from './orders';
import { useSameness } from './sameness';
import { pressTake, takesInOrder, useSelected, useSelection } from './selection';
import { UnusedTakes } from './TakeCell';

interface GridProps {
  articulation: Articulation;
  linked: boolean;
}

export const TakeGrid = memo(function TakeGrid({ articulation, linked }: GridProps) {
  const edit = useKit((s) => s.edit);
  const { takes: selected, layer: chosenLayer } = useSelected(articulation);
  const box = useRef<HTMLElement>(null);
  const alike = useSameness(articulation);
  const byId = new Map(articulation.takes.map((take) => [take.id, take]));
  const most = Math.max(...articulation.layers.map((layer) => layer.takes.length), 1);
  const orders = new Set(articulation.layers.map((l) => l.order));
  const placed = new Set(articulation.layers.flatMap((layer) => layer.takes));
  const unused = articulation.takes.filter((take) => !placed.has(take.id));

  // The rows are reused for the next articulation; the list scrolls to its top.
  const rows = useRef<HTMLDivElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another articulation begins at the top
  useEffect(() => void rows.current?.scrollTo(0, 0), [articulation.id]);

  const focusTake = (id: string | undefined) =>
    id && box.current?.querySelector<HTMLElement>(`[data-take="${CSS.escape(id)}"]`)?.focus();
  const key = (event: KeyboardEvent) => {
    const id = (event.target as HTMLElement).dataset.take;
    if (!id) return;
    const layer = articulation.layers.findIndex((l) => l.takes.includes(id));
    // Unused takes are below the softest layer.
    const row = (at: number) => (at < 0 ? unused.map((take) => take.id) : articulation.layers[at]?.takes);
    const place = row(layer)?.indexOf(id) ?? -1;
    const mine = selected.includes(id) ? selected : [id];
    if ((event.ctrlKey || event.metaKey) && event.code === 'KeyA') {
      event.preventDefault();
      useSelection.getState().chooseTakes(articulation.id, takesInOrder(articulation), id);
    } else if (event.key === 'Delete' || event.key === 'Backspace') {
      event.preventDefault();
      const enabled = !byId.get(id)?.enabled;
      void edit({ kind: 'trim_takes', articulation: articulation.id, takes: mine, enabled });
    } else if (event.key.startsWith('Arrow')) {
      event.preventDefault();
      event.stopPropagation();
      const up = { ArrowUp: 1, ArrowDown: -1 }[event.key] ?? 0;
      const along = { ArrowLeft: -1, ArrowRight: 1 }[event.key] ?? 0;
      if (event.altKey) {
        const to = layer + up;
        if (to < -1 || to >= articulation.layers.length || (layer < 0 && !up)) return;
        const at = up ? null : Math.max(0, place + (along > 0 ? 2 : -1));
        const where = { layer: to < 0 ? null : to, place: at };
        void edit({ kind: 'move_takes', articulation: articulation.id, takes: mine, ...where }).then(() =>
          // It is in another row once that is drawn.
          requestAnimationFrame(() => focusTake(id)),
        );
      } else if (up) {
        const next = row(layer + up);
        focusTake(next?.[Math.min(place, next.length - 1)]);
      } else {
        const next = row(layer)?.[place + along];
        focusTake(next);
        if (event.shiftKey && next) pressTake(articulation, next, { join: false, range: true });
      }
    }
  };
  return (
    <section ref={box} className="flex min-h-0 grow flex-col" aria-label="Takes by layer" onKeyDown={key}>
      <div className={`${COLUMNS} px-3 pb-1 text-tiny font-semibold text-faint`}>
        <span>Velocity</span>
        <span>Round robin</span>
        <span>Level spread</span>
        <span title="How similar consecutive strikes are; 1 is identical">Similarity</span>
        <span className="flex min-w-0 items-center justify-between gap-2">
          <span className="truncate">Takes, and how far each is from its layer in dB</span>
          <Pick
            label="Round robin of every layer"
            value={orders.size === 1 ? (articulation.layers[0]?.order ?? 'in_turn') : 'mixed'}
            options={[
              ...(orders.size === 1 ? [] : [{ value: 'mixed' as const, name: 'Mixed' }]),
              ...ORDERS.map((o) => ({ ...o, name: `Every layer: ${o.name.toLowerCase()}` })),
            ]}
            onChange={(order) =>
              order !== 'mixed' && void edit({ kind: 'set_order', articulation: articulation.id, layer: null, order })
            }
            className="py-0.5 text-tiny"
          />
        </span>
      </div>
      <div ref={rows} className="grid min-h-0 content-start gap-[5px] overflow-auto pb-2">
        {[...articulation.layers.keys()].reverse().map((number) => (
          <LayerRow
            key={number}
            articulation={articulation}
            layer={articulation.layers[number] as Layer}
            number={number}
            most={most}
            linked={linked}
            alike={alike?.layers[number] ?? null}
            was={alike?.was?.[number] ?? null}
            chosen={chosenLayer === number}
            selected={selected}
          />
        ))}
        <UnusedTakes articulation={articulation} takes={unused} selected={selected} />
      </div>
    </section>
  );
});
