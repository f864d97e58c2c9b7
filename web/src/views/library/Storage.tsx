/** Storage: disk space, the last backup and check, and starting either. */

import { useQuery, useQueryClient } from '@tanstack/react-query';
import { type ReactNode, useEffect, useState } from 'react';
import { get, type Job, type Maintenance, post, type RoomShown } from '../../api/calls';
import { count } from '../../app/kit/format';
import { useWrite } from '../../app/kit/writes';
import { Away } from '../../app/shell/Away';
import { Brand, ThemeSwitch } from '../../app/shell/Brand';
import { HelpButton } from '../../app/shell/Help';
import { isGoing, useJob, useJobActions } from '../../app/shell/Jobs';
import { bytes } from './bytes';
import { Kinds } from './Kinds';
import { dayOf, timeOf } from './when';

const ASKS_MS = 700;
const WAITS_MS = 15_000;

export function Storage() {
  useEffect(() => {
    document.title = 'Storage · Zesty Skin';
    return () => {
      document.title = 'Zesty Skin';
    };
  }, []);
  const { data: kept, error } = useQuery({
    queryKey: ['maintenance'],
    queryFn: () => get('/api/maintenance', {}),
    refetchInterval: (query) => (query.state.data?.going.length ? ASKS_MS : WAITS_MS),
  });
  return (
    <div className="grid h-full grid-cols-[minmax(0,1fr)] grid-rows-[auto_minmax(0,1fr)]">
      <div>
        <header className="flex h-[52px] items-center justify-between border-b border-line bg-card px-4">
          <Brand />
          <span className="flex items-center gap-1">
            <HelpButton />
            <ThemeSwitch />
          </span>
        </header>
        <Away />
      </div>
      <div className="grid min-h-0 grid-cols-[176px_minmax(0,1fr)] max-[1180px]:grid-cols-[150px_minmax(0,1fr)] max-[900px]:grid-cols-1 max-[900px]:grid-rows-[auto_minmax(220px,1fr)]">
        <Kinds tags={[]} />
        {/* biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls in small windows */}
        <main className="min-h-0 overflow-y-auto px-[22px] py-4" aria-label="Storage" tabIndex={0}>
          <h1 className="mb-3">Storage</h1>
          {error && <p role="alert">{error.message}</p>}
          <div className="grid max-w-[1080px] gap-3.5">
            <Disk />
            <div className="grid grid-cols-2 gap-3.5 max-[900px]:grid-cols-1">
              <Backup kept={kept} />
              <Check kept={kept} />
            </div>
          </div>
        </main>
      </div>
    </div>
  );
}

function Section({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section aria-label={title} className="card flex flex-col gap-2.5 p-4">
      <h2>{title}</h2>
      {children}
    </section>
  );
}

const USES: [keyof RoomShown, string, string][] = [
  ['recordings', 'Recordings', 'var(--v4)'],
  ['prepared', 'Ready to play', 'var(--v3)'],
  ['made', 'Exports and previews', 'var(--v2)'],
  ['records', 'Kits and versions', 'var(--v6)'],
  ['uploads', 'Uploads and temporary files', 'var(--plum)'],
];

/** Bars of used space on one scale; free space is given as text, because it may be a hundred times larger. */
function Disk() {
  const [cleared, setCleared] = useState<string | null>(null);
  const { data: room } = useQuery({ queryKey: ['room'], queryFn: () => get('/api/library/room', {}), staleTime: 0 });
  const { data: unneeded, error } = useQuery({
    queryKey: ['room', 'unneeded'],
    queryFn: () => get('/api/library/unneeded', {}),
    staleTime: 0,
  });
  const clearing = async () => {
    const gone = await post('/api/library/clear', {});
    setCleared(
      gone.files ? `${count(gone.files, 'file')} deleted, ${bytes(gone.bytes)} free.` : 'There was nothing to delete.',
    );
  };
  const { send: clear } = useWrite(clearing, { changes: ['room'], refused: setCleared });
  const used = room ? USES.reduce((sum, [key]) => sum + room[key], 0) : 0;
  return (
    <Section title="On this disk">
      {room && (
        <>
          <p className="text-soft">
            <span className="num text-ink">{bytes(used)}</span> used by the studio,{' '}
            <span className="num text-ink">{bytes(room.free)}</span> free.
          </p>
          <div className="flex h-5 gap-px overflow-hidden rounded-md bg-sunk" aria-hidden="true">
            {USES.filter(([key]) => room[key] > 0).map(([key, , colour]) => (
              <span key={key} className="min-w-[3px]" style={{ background: colour, flexGrow: room[key] / used }} />
            ))}
          </div>
          <dl className="flex flex-wrap gap-x-7 gap-y-1">
            {USES.map(([key, name, colour]) => (
              <div key={key} className="flex items-center gap-2">
                <span className="size-2.5 rounded-[3px]" style={{ background: colour }} aria-hidden="true" />
                <dt className="text-soft">{name}</dt>
                <dd className="num">{bytes(room[key])}</dd>
              </div>
            ))}
          </dl>
        </>
      )}
      <div className="flex flex-wrap items-center gap-3">
        <p className="grow text-soft" role="status">
          {cleared ??
            (error
              ? error.message
              : !unneeded
                ? 'Checking for unused files…'
                : unneeded.files
                  ? `${count(unneeded.files, 'file')} (${bytes(unneeded.bytes)}) are used by no kit, piece or session.`
                  : 'Every file is used by a kit, a piece or a session.')}
        </p>
        {unneeded !== undefined && unneeded.files > 0 && (
          <button type="button" className="btn" onClick={() => void clear()}>
            Delete unused files
          </button>
        )}
      </div>
    </Section>
  );
}

const when = (at: string) => `${dayOf(new Date(at))}, ${timeOf(at)}`;

function useBegun(kept: Maintenance | undefined, kind: 'backup' | 'check') {
  const queries = useQueryClient();
  const [id, setId] = useState<string | null>(null);
  const [said, setSaid] = useState<string | null>(null);
  const found = kept?.going.find((job) => job.kind === kind);
  const { data } = useJob(id ?? found?.id ?? null);
  const job = data ?? found;
  const ended = data !== undefined && !isGoing(data);
  useEffect(() => {
    if (ended) void queries.invalidateQueries({ queryKey: ['maintenance'] });
  }, [ended, queries]);
  const beginning = async (start: () => Promise<Job>) => {
    setSaid(null);
    setId((await start()).id);
  };
  const { send: begin } = useWrite(beginning, { changes: ['maintenance'], refused: setSaid });
  const failed = ended && data.state !== 'done' ? data.message : null;
  return { job: job && isGoing(job) ? job : null, said: said ?? failed, begin };
}

function Progress({ job }: { job: Job }) {
  const { cancel } = useJobActions();
  const share = job.total ? job.done / job.total : 0;
  return (
    <div className="flex items-center gap-3" role="status">
      <span className="h-2 grow overflow-hidden rounded-full bg-sunk">
        <span className="block h-full rounded-full bg-leaf" style={{ width: `${Math.max(3, 100 * share)}%` }} />
      </span>
      <span className="num">
        {job.away ? 'waiting for the worker' : job.total > 1 ? `${job.done} of ${job.total}` : 'starting'}
      </span>
      <button type="button" className="btn" onClick={() => void cancel(job)}>
        Cancel
      </button>
    </div>
  );
}

function Backup({ kept }: { kept: Maintenance | undefined }) {
  const last = kept?.backup;
  const [folder, setFolder] = useState<string | null>(null);
  const { job, said, begin } = useBegun(kept, 'backup');
  // The folder of the last backup, until another is typed.
  const named = folder ?? last?.folder ?? '';
  return (
    <Section title="Backup">
      <p className="text-soft">
        A copy of everything: kits with all their versions, the library, and every recording. The studio can be used
        while it is written; the next one copies only what is new.
      </p>
      {kept === undefined ? (
        <p className="text-soft">Checking…</p>
      ) : last ? (
        <>
          <p>
            Last backup: <b>{when(last.ended)}</b>, {count(last.recordings, 'recording')} ({bytes(last.bytes)}) in{' '}
            <span className="num break-all">{last.folder}</span>.
          </p>
          <Problems problems={last.problems} />
        </>
      ) : (
        <p>
          <b>Never backed up.</b> Choose a folder, best on another disk.
        </p>
      )}
      <form
        className="mt-auto flex items-end gap-2.5"
        onSubmit={(event) => {
          event.preventDefault();
          void begin(() => post('/api/maintenance/backup', {}, { folder: named }));
        }}
      >
        <label className="grid grow gap-1">
          <span className="text-small text-soft">Folder on this machine</span>
          <input
            className="num h-8 w-full rounded-lg border border-line bg-paper px-2.5"
            value={named}
            placeholder="/media/disk/zesty-backup"
            onChange={(event) => setFolder(event.target.value)}
          />
        </label>
        <button type="submit" className="btn btn-go h-8" disabled={!named || job !== null}>
          Back up now
        </button>
      </form>
      {job && <Progress job={job} />}
      {said && <p role="alert">{said}</p>}
      <p className="text-small text-faint">
        To restore it into an empty folder: <span className="num">zesty restore FOLDER</span>
      </p>
    </Section>
  );
}

function Problems({ problems }: { problems: string[] }) {
  if (!problems.length) return null;
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls
    <ul className="max-h-40 overflow-y-auto rounded-lg bg-amber-wash px-3 py-2 text-small" tabIndex={0}>
      {problems.map((problem) => (
        <li key={problem}>{problem}</li>
      ))}
    </ul>
  );
}

function Check({ kept }: { kept: Maintenance | undefined }) {
  const last = kept?.check;
  const { job, said, begin } = useBegun(kept, 'check');
  const wrong = last?.troubles.filter((trouble) => trouble.kind !== 'untidy' && !trouble.repaired) ?? [];
  const repaired = last?.troubles.filter((trouble) => trouble.repaired) ?? [];
  return (
    <Section title="Check">
      <p className="text-soft">
        Reads every recording and every version and compares them with what was saved when they were added. Damage is
        named; repairing takes what it can from the last backup.
      </p>
      {kept === undefined ? (
        <p className="text-soft">Checking…</p>
      ) : last ? (
        <>
          <p>
            Last check: <b>{when(last.ended)}</b>. {last.said}.
          </p>
          {last.sound ? (
            <p className="text-leaf">
              {repaired.length
                ? `${count(repaired.length, 'thing')} repaired; everything is intact now.`
                : 'Everything is intact.'}
            </p>
          ) : (
            <p role="alert">
              <b>{count(wrong.length, 'thing')} found that should be repaired:</b>
            </p>
          )}
          <Problems
            problems={[...wrong, ...repaired].map(
              (trouble) => `${trouble.repaired ? 'Repaired: ' : ''}${trouble.said}`,
            )}
          />
        </>
      ) : (
        <p>
          <b>Never checked.</b>
        </p>
      )}
      <div className="mt-auto flex gap-2.5">
        <button
          type="button"
          className="btn h-8"
          disabled={job !== null}
          onClick={() => void begin(() => post('/api/maintenance/check', {}, { repair: false }))}
        >
          Check now
        </button>
        {wrong.length > 0 && (
          <button
            type="button"
            className="btn btn-go h-8"
            disabled={job !== null}
            onClick={() => void begin(() => post('/api/maintenance/check', {}, { repair: true }))}
          >
            Repair
          </button>
        )}
      </div>
      {job && <Progress job={job} />}
      {said && <p role="alert">{said}</p>}
    </Section>
  );
}
