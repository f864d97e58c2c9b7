/** Note maps, shipped and saved: compared, applied, saved, copied, exported. */
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { useRef, useState } from 'react';
import { type KitState, type MapCard, post, postForm } from '../../api/calls';
import { useKit } from '../../app/kit/kitStore';
import { useShelf } from '../../app/shelf/shelf';
import { Actions } from '../../ui/Actions';
import { Named } from '../../ui/Named';
import { Apply, Comparison } from './MapComparison';

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
  const shelf = useShelf('maps');
  const maps = shelf.cards;
  const [chosen, setChosen] = useState('standard');
  const [naming, setNaming] = useState<'keep' | 'rename' | null>(null);
  const [said, setSaid] = useState<string[]>([]);
  const file = useRef<HTMLInputElement>(null);
  const shown = maps.find((map) => map.id === chosen) ?? maps[0];
  const asking = async (act: () => Promise<unknown>) => {
    setSaid([]);
    const refused = await shelf.doing(async () => {
      const made = await act();
      if (made && typeof made === 'object' && 'id' in made) setChosen(String(made.id));
    });
    if (refused) setSaid([refused]);
  };
  const bring = (picked: File | undefined) =>
    picked &&
    asking(async () => {
      const form = new FormData();
      form.append('file', picked, picked.name);
      const { card, problems } = await postForm('/api/map-files', {}, form);
      if (problems.length) setSaid([`${card.name} was saved.`, ...problems]);
      return card;
    });
  const replaceBy = async (map: MapCard) => {
    await post('/api/kits/{kit_id}/map/replaces/{map_id}', { kit_id: kit.id, map_id: map.id });
    shelf.replaced(map, `${map.name} is this kit’s map now.`);
  };
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
              if (name) void asking(() => post('/api/kits/{kit_id}/map', { kit_id: kit.id }, { name }));
            }}
          />
        ) : (
          <button type="button" className="btn btn-go" onClick={() => setNaming('keep')}>
            Save this kit’s map as…
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
      {shelf.gone && (
        <p role="status" className="flex gap-3 rounded-lg bg-plum-wash px-3 py-2 text-small">
          {shelf.gone.said}
          <button type="button" className="link" onClick={() => void asking(shelf.bringBack)}>
            Undo
          </button>
        </p>
      )}
      <div className="grid min-h-0 grow grid-cols-[230px_minmax(0,1fr)] gap-4">
        <div className="overflow-y-auto border-r border-line pr-3">
          <ul aria-label="Maps">
            {maps.map((map, k) => (
              <li key={map.id}>
                {(k === 0 || map.ours !== maps[k - 1]?.ours) && (
                  <h2 className="head mt-2 mb-1">{map.ours ? 'Yours' : 'Built in'}</h2>
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
                  <span className="num text-faint">{map.value ? map.value.entries.length : 'GM'}</span>
                </button>
              </li>
            ))}
          </ul>
          {!maps.some((map) => map.ours) && (
            <p className="mt-3 text-small text-soft">
              Teach your electronic kit once and save its map; any kit can then be played from it.
            </p>
          )}
        </div>
        {shown && (
          <div className="flex min-h-0 flex-col gap-2">
            <div className="flex items-center gap-2">
              {naming === 'rename' ? (
                <Named
                  label="Name"
                  value={shown.name}
                  onName={(name) => {
                    setNaming(null);
                    if (name && name !== shown.name) {
                      void asking(() => shelf.rename(shown, name));
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
                    disabled: !shown.value,
                    onChoose: () => void asking(() => shelf.duplicate(shown)),
                  },
                  { name: 'Rename', disabled: !shown.ours, onChoose: () => setNaming('rename') },
                  {
                    name: 'Replace with this kit’s map',
                    disabled: !shown.ours,
                    onChoose: () => void asking(() => replaceBy(shown)),
                  },
                  {
                    name: 'Export as CSV',
                    disabled: !shown.value,
                    onChoose: () => download(`/api/maps/${shown.id}/file?form=csv`),
                  },
                  {
                    name: 'Export as JSON',
                    disabled: !shown.value,
                    onChoose: () => download(`/api/maps/${shown.id}/file?form=json`),
                  },
                  {
                    name: 'Delete',
                    disabled: !shown.ours,
                    onChoose: () => void asking(() => shelf.remove(shown)),
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
