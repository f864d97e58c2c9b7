/** Folders of this machine that the studio may read, browsed and imported without sending anything. */

import { useQuery } from '@tanstack/react-query';
import { Folder } from 'lucide-react';
import { useState } from 'react';
import { get, type KitState, post } from '../../api/calls';
import { count } from '../../app/kit/format';
import { useKit } from '../../app/kit/kitStore';
import { useWrite } from '../../app/kit/writes';

export function InboxPick({ onBrought }: { onBrought: () => void }) {
  const kit = useKit((s) => s.kit) as KitState;
  const [path, setPath] = useState('');
  const { data } = useQuery({
    queryKey: ['inbox', path],
    queryFn: () => get('/api/inbox', { path }),
    retry: false,
  });
  const { send: bring } = useWrite(
    async () => {
      const job = await post('/api/kits/{kit_id}/sessions/from-inbox', { kit_id: kit.id }, { path });
      if (job.of) await useKit.getState().moveTo(job.of);
      onBrought();
    },
    { changes: ['jobs', 'sessions'] },
  );
  if (!data?.open) return null;
  const parts = path ? path.split('/') : [];
  return (
    <section className="w-full border-t border-line pt-2.5" aria-label="Folders of this machine">
      <div className="flex flex-wrap items-center gap-1.5 text-small">
        <h2 className="head">On this machine</h2>
        <button type="button" className="link" onClick={() => setPath('')}>
          inbox
        </button>
        {parts.map((part, at) => (
          <span key={parts.slice(0, at + 1).join('/')} className="flex gap-1.5">
            /
            <button type="button" className="link" onClick={() => setPath(parts.slice(0, at + 1).join('/'))}>
              {part}
            </button>
          </span>
        ))}
        <span className="grow" />
        <button type="button" className="btn" disabled={!path} onClick={() => void bring()}>
          Add {path ? `“${parts[parts.length - 1]}”` : 'a folder'}
        </button>
      </div>
      <ul className="mt-1.5 flex max-h-24 flex-wrap gap-1.5 overflow-y-auto">
        {data.folders.map((folder) => (
          <li key={folder.name}>
            <button
              type="button"
              className="chip items-center"
              onClick={() => setPath(path ? `${path}/${folder.name}` : folder.name)}
            >
              <Folder size={13} aria-hidden="true" /> {folder.name}
              <span className="text-faint">{count(folder.entries, 'entry', 'entries')}</span>
            </button>
          </li>
        ))}
        {data.folders.length === 0 && <li className="text-small text-soft">No folders in here.</li>}
      </ul>
    </section>
  );
}
