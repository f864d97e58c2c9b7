/** Recordings: import recordings, check how they were read, build pieces. */

import { useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { get, type KitState } from '../../api/calls';
import { DropZone } from '../../app/importing/DropZone';
import { cameText, useImporting } from '../../app/importing/importing';
import { count } from '../../app/kit/format';
import { useKit } from '../../app/kit/kitStore';
import { queries } from '../../app/kit/queries';
import { isGoing, progressText, useJobActions, useJobs } from '../../app/shell/Jobs';
import { Pick } from '../../ui/Pick';
import { Brought, CameIn, Waiting } from './Arriving';

import { InboxPick } from './InboxPick';
import { MakePieces, Noticed, Read } from './Read';

export default function Recordings() {
  const kit = useKit((s) => s.kit) as KitState;
  const [chosen, setChosen] = useState<number | null>(null);
  const [adding, setAdding] = useState(false);
  const bringing = useImporting();
  const { data: sessions = [] } = useQuery({
    queryKey: ['sessions', kit.id],
    queryFn: () => get('/api/kits/{kit_id}/sessions', { kit_id: kit.id }),
  });
  const { data: jobs } = useJobs();
  const { cancel, again } = useJobActions();
  const reading = jobs?.find((job) => job.kind === 'read_session' || job.kind === 'bring_in_folder');
  const going = isGoing(reading) ? reading : undefined;
  const failed = reading && !going && reading.state !== 'done' ? reading : undefined;
  const session = sessions.find((s) => s.id === chosen) ?? sessions.find((s) => s.read) ?? sessions[0];
  const ended = going ? '' : `${reading?.id} ${reading?.state}`;
  // biome-ignore lint/correctness/useExhaustiveDependencies: when reading ends, its result is fetched
  useEffect(() => {
    void queries.invalidateQueries({ queryKey: ['sessions'] });
    void queries.invalidateQueries({ queryKey: ['reading'] });
  }, [ended]);
  useEffect(() => {
    if (bringing.session !== null) setChosen(bringing.session);
    setAdding(false);
  }, [bringing.session]);
  const { data } = useQuery({
    queryKey: ['reading', session?.id, 'reading'],
    queryFn: () => get('/api/sessions/{session_id}', { session_id: session?.id as number }),
    enabled: session?.read === true,
  });
  const { going: sending, came } = bringing;
  const empty = !session && !sending && !going;
  return (
    <div className="panes grid min-h-0 grid-cols-[208px_minmax(0,1fr)_264px] max-[1180px]:grid-cols-[180px_minmax(0,1fr)_212px]">
      <Brought data={data} />
      <main className="flex min-h-0 flex-col gap-2.5 overflow-hidden px-[18px] py-3">
        <div className="flex flex-wrap items-center gap-3">
          <h1 className="truncate">{session?.name ?? 'Recordings'}</h1>
          {sessions.length > 1 && session && (
            <Pick
              label="Session"
              value={session.id}
              options={sessions.map((s) => ({ value: s.id, name: `${s.name} · ${s.files.toLocaleString('en')}` }))}
              onChange={setChosen}
              className="max-w-[150px]"
            />
          )}
          {data && (
            <span className="text-soft">
              {(data.files - data.unread.length - data.apart.length).toLocaleString('en')} of{' '}
              {count(data.files, 'file')} read · {count(data.takes, 'take')}
            </span>
          )}
          <span className="grow" />
          {!empty && (
            <button type="button" className="btn" onClick={() => setAdding(!adding)} aria-expanded={adding}>
              Add recordings
            </button>
          )}
          {data && session && data.pieces > 0 && <MakePieces data={data} session={session} />}
        </div>
        {(empty || adding) && (
          <DropZone
            onFiles={(files, name) => void bringing.bring(files, name)}
            busy={sending !== null}
            after={<InboxPick onBrought={() => setAdding(false)} />}
          >
            <h2>{empty ? 'Add a recording session' : 'Add another session'}</h2>
            <p className="max-w-[560px] text-soft">
              Drop a folder or a zip here, or on any screen. One strike heard by several microphones may be several
              files: folders named by microphone or by piece, names with a strength and a repeat. The files are never
              changed.
            </p>
          </DropZone>
        )}
        {sending && (
          <p className="card flex shrink-0 items-center gap-3 py-2" role="status" data-testid="sending">
            Sending {sending.name}
            <progress className="grow accent-[var(--zest)]" value={sending.done} max={sending.total} />
            <span className="num">
              {sending.done.toLocaleString('en')} of {sending.total.toLocaleString('en')}
              {sending.known > 0 && `, ${sending.known.toLocaleString('en')} already here`}
            </span>
            <button type="button" className="btn" onClick={bringing.stop}>
              Stop
            </button>
          </p>
        )}
        {came && (came.refused.length > 0 || came.stopped || came.known > 0) && (
          <CameIn onClose={bringing.forget} text={cameText(came)} refused={came.refused} />
        )}
        {going && (
          <p className="card flex shrink-0 items-center gap-3 py-2" role="status" data-testid="measuring">
            {progressText(going)}
            <progress className="grow accent-[var(--zest)]" value={going.done} max={going.total || 1} />
            <button type="button" className="btn" onClick={() => void cancel(going)}>
              Cancel
            </button>
          </p>
        )}
        {failed && (
          <p className="flex shrink-0 items-center gap-3 rounded-xl bg-amber-wash px-3.5 py-2" role="alert">
            <span className="grow">{failed.message}</span>
            <button type="button" className="btn" onClick={() => void again(failed)}>
              Run again
            </button>
          </p>
        )}
        {session && !session.read && !going && !sending && <Waiting session={session} />}
        {data && <Read key={data.id} data={data} />}
      </main>
      <Noticed data={data} />
    </div>
  );
}
