/** What applying a saved map would change in the kit. */
import { useQuery } from '@tanstack/react-query';
import { get, type KitState, type MapCard } from '../../api/calls';
import { count } from '../../app/kit/format';
import { useKit } from '../../app/kit/kitStore';

export function Apply({ map, onApplied }: { map: MapCard; onApplied: () => void }) {
  const edit = useKit((s) => s.edit);
  return (
    <button
      type="button"
      className="btn btn-go"
      onClick={() => void edit({ kind: 'apply_map', map: map.value }).then((refused) => !refused && onApplied())}
    >
      Apply to this kit
    </button>
  );
}

export function Comparison({ map }: { map: MapCard }) {
  const kit = useKit((s) => s.kit) as KitState;
  const { data, error } = useQuery({
    queryKey: ['compare', kit.id, kit.version, map.id, map.name],
    queryFn: () => get('/api/kits/{kit_id}/maps/{map_id}/compare', { kit_id: kit.id, map_id: map.id }),
  });
  if (error) return <p className="text-small text-zest-text">{(error as Error).message}</p>;
  if (!data) return null;
  const named = (notes: readonly number[]) => notes.map((note) => kit.head.note_names[note]).join(' ') || '–';
  const nothing = !data.moved.length && !data.lost.length;
  return (
    <div className="grid min-h-0 content-start gap-3 overflow-y-auto pr-1" data-testid="comparison">
      {nothing && <p className="text-soft">This kit’s notes are as this map has them.</p>}
      {data.moved.length > 0 && (
        <section>
          <h2 className="head">{count(data.moved.length, 'articulation')} would play from other notes</h2>
          <ul className="mt-1 grid grid-cols-2 gap-x-6 text-small">
            {data.moved.map((change) => (
              <li key={change.articulation} className="flex justify-between gap-2">
                <span className="truncate">{change.name}</span>
                <span className="num whitespace-nowrap">
                  <span className="text-faint">{named(change.before)}</span> → {named(change.after)}
                </span>
              </li>
            ))}
          </ul>
        </section>
      )}
      {data.lost.length > 0 && (
        <section className="rounded-lg bg-amber-wash px-3 py-2 text-small" data-testid="would-lose">
          <b className="font-semibold">
            {count(data.lost.length, 'articulation')} would be left without a note, because the map gives theirs to
            others:
          </b>{' '}
          {data.lost.map((change) => `${change.name} (${named(change.before)})`).join(', ')}.
        </section>
      )}
      {data.kept.length > 0 && (
        <p className="text-small text-soft">
          Not in this map, and staying where they are:{' '}
          {data.kept.map((c) => `${c.name} (${named(c.after)})`).join(', ')}.
        </p>
      )}
      {data.without_articulation.length > 0 && (
        <p className="text-small text-soft">
          In this map, and not in this kit:{' '}
          {data.without_articulation
            .map((e) => `${e.piece || e.family} ${e.articulation} (${kit.head.note_names[e.note]})`)
            .join(', ')}
          .
        </p>
      )}
    </div>
  );
}
