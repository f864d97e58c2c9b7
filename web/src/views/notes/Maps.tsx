/** Note maps: those that ship and one's own; what one would change, applied, kept, duplicated, carried as a file. */
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { get, type KitState, type MapCard, type MapKept, post, postForm, remove, type SavedMap } from '../../api/calls';
import { count } from '../../app/format';
import { useKit } from '../../app/kitStore';
import { Actions } from '../../ui/Actions';
import { Named } from '../../ui/Named';

export function Maps() {
  const [open, setOpen] = useState(false);
  return (
    <>
      <button type="button" className="btn" onClick={() => setOpen(true)}>
        Maps…
      </button>
      <Dialog open={open} onClose={() => setOpen(false)} className="relative z-50">
        <div className="fixed inset-0 grid place-items-center bg-black/40 p-4">
          <DialogPanel className="card flex h-[560px] max-h-full w-[820px] max-w-full flex-col gap-3">
            {open && <MapShelf onClose={() => setOpen(false)} />}
          </DialogPanel>
        </div>
      </Dialog>
    </>
  );
}

function MapShelf({ onClose }: { onClose: () => void }) {
  const kit = useKit((s) => s.kit) as KitState;
  const queries = useQueryClient();
  const { data: maps = [] } = useQuery({ queryKey: ['maps'], queryFn: () => get('/api/maps', {}) });
  const [chosen, setChosen] = useState('standard');
  const [naming, setNaming] = useState<'keep' | 'rename' | null>(null);
  const [said, setSaid] = useState<string[]>([]);
  /** A map that was removed or replaced just now, to be brought back. */
  const [gone, setGone] = useState<{ said: string; map: SavedMap } | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const shown = maps.find((map) => map.id === chosen) ?? maps[0];
  const asking = async (act: () => Promise<MapCard | MapKept | undefined>, lost: typeof gone = null) => {
    try {
      const made = await act();
      const kept = made && 'card' in made ? made : null;
      const card = made && 'card' in made ? made.card : made;
      setSaid(kept?.problems.length ? [`${kept.card.name} was kept.`, ...kept.problems] : []);
      setGone(lost);
      await queries.invalidateQueries({ queryKey: ['maps'] });
      if (card) setChosen(card.id);
    } catch (error) {
      setSaid([(error as Error).message]);
    }
  };
  const bring = (picked: File | Blob | undefined, name = picked instanceof File ? picked.name : 'map.json') =>
    picked &&
    asking(() => {
      const form = new FormData();
      form.append('file', picked, name);
      return postForm('/api/map-files', {}, form);
    });
  return (
    <>
      <div className="flex items-center gap-2">
        <DialogTitle as="h1">Note maps</DialogTitle>
        <span className="grow" />
        {naming === 'keep' ? (
          <Named
            label="Name of the map"
            value=""
            onName={(name) => {
              setNaming(null);
              if (name) void asking(() => post('/api/maps', {}, { name, kit: kit.id }));
            }}
          />
        ) : (
          <button type="button" className="btn btn-go" onClick={() => setNaming('keep')}>
            Keep this kit’s map as…
          </button>
        )}
        <button type="button" className="btn" onClick={() => file.current?.click()}>
          Import…
        </button>
        <input
          ref={file}
          type="file"
          accept=".csv,.json"
          className="hidden"
          aria-label="Map file"
          onChange={(event) => {
            void bring(event.target.files?.[0]);
            event.target.value = '';
          }}
        />
        <Actions
          label="Export this kit’s map"
          side="bottom end"
          actions={(['csv', 'json'] as const).map((form) => ({
            name: form === 'csv' ? 'CSV, for spreadsheets' : 'JSON',
            onChoose: () => download(`/api/kits/${kit.id}/map-file?form=${form}`),
          }))}
        >
          Export…
        </Actions>
        <button type="button" className="btn" onClick={onClose}>
          Close
        </button>
      </div>
      {said.length > 0 && (
        <div role="alert" className="max-h-[88px] overflow-y-auto rounded-lg bg-amber-wash px-3 py-2 text-small">
          {said.map((sentence) => (
            <p key={sentence}>{sentence}</p>
          ))}
        </div>
      )}
      {gone && (
        <p role="status" className="flex gap-3 rounded-lg bg-plum-wash px-3 py-2 text-small">
          {gone.said}
          <button
            type="button"
            className="link"
            onClick={() => void bring(new Blob([JSON.stringify(gone.map)], { type: 'application/json' }))}
          >
            Bring the old one back
          </button>
        </p>
      )}
      <div className="grid min-h-0 grow grid-cols-[230px_minmax(0,1fr)] gap-4">
        <div className="overflow-y-auto border-r border-line pr-3">
          <ul aria-label="Maps">
            {maps.map((map, k) => (
              <li key={map.id}>
                {(k === 0 || map.ours !== maps[k - 1]?.ours) && (
                  <h3 className="mt-2 mb-1">{map.ours ? 'Yours' : 'Built in'}</h3>
                )}
                <button
                  type="button"
                  aria-pressed={map.id === shown?.id}
                  className={`flex w-full justify-between gap-2 rounded-lg px-2 py-1.5 text-left ${
                    map.id === shown?.id ? 'bg-sunk font-semibold' : 'hover:bg-sunk/60'
                  }`}
                  onClick={() => setChosen(map.id)}
                >
                  <span className="truncate">{map.name}</span>
                  <span className="num text-faint">{map.map ? map.entries : 'GM'}</span>
                </button>
              </li>
            ))}
          </ul>
          {!maps.some((map) => map.ours) && (
            <p className="mt-3 text-small text-soft">
              Teach your electronic kit once, keep its map under its name, and any kit can be played from it.
            </p>
          )}
        </div>
        {shown && (
          <div className="flex min-h-0 flex-col gap-2">
            <div className="flex items-center gap-2">
              {naming === 'rename' ? (
                <Named
                  label="Another name"
                  value={shown.name}
                  onName={(name) => {
                    setNaming(null);
                    if (name && name !== shown.name) {
                      void asking(() => post('/api/maps/{map_id}/rename', { map_id: shown.id }, { name }));
                    }
                  }}
                />
              ) : (
                <h2>{shown.name}</h2>
              )}
              <span className="grow" />
              <Apply map={shown} onApplied={onClose} />
              <Actions
                label={`More for ${shown.name}`}
                side="bottom end"
                actions={[
                  {
                    name: 'Duplicate',
                    disabled: !shown.map,
                    onChoose: () => void asking(() => post('/api/maps/{map_id}/duplicate', { map_id: shown.id })),
                  },
                  { name: 'Rename', disabled: !shown.ours, onChoose: () => setNaming('rename') },
                  {
                    name: 'Replace with this kit’s map',
                    disabled: !shown.ours,
                    onChoose: () =>
                      void asking(
                        () => post('/api/maps/{map_id}/replace', { map_id: shown.id }, { kit: kit.id }),
                        shown.map && { said: `${shown.name} is this kit’s map now.`, map: shown.map },
                      ),
                  },
                  {
                    name: 'Export as CSV',
                    disabled: !shown.map,
                    onChoose: () => download(`/api/maps/${shown.id}/file?form=csv`),
                  },
                  {
                    name: 'Export as JSON',
                    disabled: !shown.map,
                    onChoose: () => download(`/api/maps/${shown.id}/file?form=json`),
                  },
                  {
                    name: 'Remove',
                    disabled: !shown.ours,
                    onChoose: () =>
                      void asking(
                        () => remove('/api/maps/{map_id}', { map_id: shown.id }).then(() => undefined),
                        shown.map && { said: `${shown.name} was removed.`, map: shown.map },
                      ),
                  },
                ]}
              >
                More…
              </Actions>
            </div>
            <Comparison map={shown} />
          </div>
        )}
      </div>
    </>
  );
}

const download = (address: string) => {
  const link = document.createElement('a');
  link.href = address;
  link.download = '';
  link.click();
};

function Apply({ map, onApplied }: { map: MapCard; onApplied: () => void }) {
  const edit = useKit((s) => s.edit);
  return (
    <button
      type="button"
      className="btn btn-go"
      onClick={() => void edit({ kind: 'apply_map', map: map.map }).then((refused) => !refused && onApplied())}
    >
      Apply to this kit
    </button>
  );
}

function Comparison({ map }: { map: MapCard }) {
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
          <h3>{count(data.moved.length, 'stroke')} would play from other notes</h3>
          <ul className="mt-1 grid grid-cols-2 gap-x-6 text-small">
            {data.moved.map((change) => (
              <li key={change.articulation} className="flex justify-between gap-2">
                <span className="truncate">{change.stroke}</span>
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
            {count(data.lost.length, 'stroke')} would be left without a note, because the map gives theirs to others:
          </b>{' '}
          {data.lost.map((change) => `${change.stroke} (${named(change.before)})`).join(', ')}.
        </section>
      )}
      {data.kept.length > 0 && (
        <p className="text-small text-soft">
          Not in this map, and staying where they are:{' '}
          {data.kept.map((c) => `${c.stroke} (${named(c.after)})`).join(', ')}.
        </p>
      )}
      {data.without_stroke.length > 0 && (
        <p className="text-small text-soft">
          In this map, and not in this kit:{' '}
          {data.without_stroke
            .map((e) => `${e.piece || e.family} ${e.articulation} (${kit.head.note_names[e.note]})`)
            .join(', ')}
          .
        </p>
      )}
    </div>
  );
}
