/** Files that could not be placed: placed by hand, or left out. */

import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { Play } from 'lucide-react';
import { useState } from 'react';
import type { KitState, Reading } from '../../api/calls';
import { makeOfHits } from '../../app/importing/singleSounds';
import { count } from '../../app/kit/format';
import { useKit } from '../../app/kit/kitStore';
import { useWrite } from '../../app/kit/writes';
import { Pick } from '../../ui/Pick';
import { guide } from './Columns';
import { useRows } from './rows';

type Unread = Reading['unread'][number];

export const dragsFile = 'application/x-unread-recording';

/** Place one file in an articulation: as a new take, or in the take of the file `beside` it. */
export const placeIn = (
  data: Reading,
  path: string,
  articulationId: string,
  mic = '',
  beside: string | null = null,
) => {
  const articulation = data.articulations.find((s) => s.articulation_id === articulationId);
  if (!articulation) return;
  const entry = { path, piece: articulation.piece, articulation: articulation.articulation, mic, beside };
  const placed = [...data.guidance.placed.filter((p) => p.path !== path), entry];
  void guide(data.id, { ...data.guidance, words: [], placed });
};

export const leaveApart = (data: Reading, paths: string[]) =>
  void guide(data.id, { ...data.guidance, words: [], apart: [...new Set([...data.guidance.apart, ...paths])] });

export function UnreadFiles({ data }: { data: Reading }) {
  const [open, setOpen] = useState(false);
  const { unread, apart } = data;
  if (!unread.length && !apart.length && !data.guidance.placed.length) return null;
  const names = unread.filter((u) => u.content);
  return (
    <section className="grid grid-cols-[minmax(0,1fr)] gap-1.5 rounded-[10px] bg-plum-wash px-3 py-2.5 text-small">
      <b>
        {unread.length
          ? `${count(unread.length, 'file')} not read`
          : `Every name is read${apart.length ? `, ${count(apart.length, 'file')} ignored` : ''}`}
      </b>
      {unread.slice(0, 4).map((entry) => (
        // biome-ignore lint/a11y/noStaticElementInteractions: the keyboard way is below
        <span
          key={entry.path}
          draggable={entry.content !== ''}
          onDragStart={(event) => event.dataTransfer.setData(dragsFile, entry.path)}
          title={entry.content ? 'Drag it onto an articulation, or place it below' : undefined}
          className={`[overflow-wrap:anywhere] ${entry.content ? 'cursor-grab' : ''}`}
        >
          {entry.why}
        </span>
      ))}
      {unread.length > 4 && <span className="text-soft">and {unread.length - 4} more.</span>}
      <span className="flex flex-wrap gap-x-3 gap-y-0.5">
        {names.length > 0 && (
          <>
            <EachAlone session={data.id} count={names.length} />
            <button type="button" className="link" onClick={() => setOpen(true)}>
              Place by hand
            </button>
          </>
        )}
        {unread.length > 0 && (
          <button
            type="button"
            className="link"
            onClick={() =>
              leaveApart(
                data,
                unread.map((u) => u.path),
              )
            }
          >
            {unread.length > 1 ? `Ignore all ${unread.length}` : 'Ignore it'}
          </button>
        )}
        {(apart.length > 0 || data.guidance.placed.length > 0) && (
          <button
            type="button"
            className="link"
            onClick={() => void guide(data.id, { ...data.guidance, words: [], apart: [], placed: [] })}
          >
            Undo placing and ignoring
          </button>
        )}
      </span>
      <Dialog open={open && names.length > 0} onClose={() => setOpen(false)} className="relative z-40">
        <div className="fixed inset-0 grid place-items-center bg-black/40 p-4">
          <DialogPanel className="card flex max-h-[80vh] w-full max-w-[860px] flex-col gap-3">
            <DialogTitle as="h2" className="text-[16px]">
              Place files by hand
            </DialogTitle>
            <ul className="grid gap-2.5 overflow-y-auto">
              {names.map((entry) => (
                <PlaceOne key={entry.path} data={data} entry={entry} />
              ))}
            </ul>
            <button type="button" className="btn self-end" onClick={() => setOpen(false)}>
              Done
            </button>
          </DialogPanel>
        </div>
      </Dialog>
    </section>
  );
}

/** Files whose names name no drum can become pieces of their own, placed by sound. */
function EachAlone({ session, count: files }: { session: number; count: number }) {
  const { busy, send: make } = useWrite(async () => {
    const { kit } = useKit.getState();
    if (kit) await makeOfHits(kit.id, session, true);
  });
  return (
    <button type="button" className="link" disabled={busy} onClick={() => void make()}>
      {files > 1 ? `Make a piece of each of the ${files}` : 'Make a piece from it'}, placed by sound
    </button>
  );
}

function PlaceOne({ data, entry }: { data: Reading; entry: Unread }) {
  const kit = useKit((s) => s.kit) as KitState;
  const { data: rows } = useRows(data.id);
  const [picked, setArticulation] = useState<string | null>(null);
  // It most likely belongs with its neighbours in the folder.
  const folder = entry.path.slice(0, entry.path.lastIndexOf('/') + 1);
  const near = rows?.path.findIndex((path) => path.startsWith(folder)) ?? -1;
  const articulation = picked ?? data.articulations[rows?.articulation[near] ?? 0]?.articulation_id ?? '';
  const [mic, setMic] = useState('');
  const [beside, setBeside] = useState('');
  const chosen = data.articulations.find((s) => s.articulation_id === articulation);
  const at = data.articulations.indexOf(chosen as Reading['articulations'][number]);
  const takes = rows
    ? rows.path.flatMap((file, i) => (rows.own[i] && rows.articulation[i] === at ? [{ file, i }] : []))
    : [];
  const place = () => placeIn(data, entry.path, articulation, mic, beside || null);
  return (
    <li className="grid gap-1.5 rounded-xl border border-line p-2.5">
      <span className="flex items-center gap-2">
        <button
          type="button"
          className="rounded-md p-1 text-soft hover:bg-sunk"
          aria-label={`Hear ${entry.path}`}
          onClick={() =>
            void new Audio(`/api/sounds/${entry.content}/${kit.head.rate_hz}/stereo`).play().catch(() => undefined)
          }
        >
          <Play size={13} />
        </button>
        <b className="num truncate">{entry.path}</b>
      </span>
      <span className="flex flex-wrap items-center gap-1.5 text-small">
        is a take of
        <Pick
          label={`Articulation of ${entry.path}`}
          value={articulation}
          options={data.articulations.map((s) => ({
            value: s.articulation_id,
            name: `${s.piece} · ${s.articulation}`,
          }))}
          onChange={(to) => {
            setArticulation(to);
            setBeside('');
          }}
        />
        <Pick
          label={`Take of ${entry.path}`}
          value={beside}
          options={[
            { value: '', name: 'by itself' },
            ...takes.map(({ file, i }) => ({ value: file, name: `with ${rows?.label[i]}` })),
          ]}
          onChange={setBeside}
        />
        from microphone
        <Pick
          label={`Microphone of ${entry.path}`}
          value={mic}
          options={[
            { value: '', name: 'what its folder says' },
            ...data.mics.map((m) => ({ value: m.name, name: m.name })),
          ]}
          onChange={setMic}
        />
        <button type="button" className="btn btn-go px-2 py-1" disabled={!chosen} onClick={place}>
          Place it
        </button>
        <button type="button" className="btn px-2 py-1" onClick={() => leaveApart(data, [entry.path])}>
          Ignore it
        </button>
      </span>
    </li>
  );
}
