/** Recordings: bring in what was recorded, see how it was read, make pieces of it. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { Folder, Play } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { useLocation } from 'react-router';
import { type Finding, get, type KitState, post, type Reading, type TakeRow } from '../../api/calls';
import { FindingCard } from '../../app/Findings';
import { count, decibels, layerColour } from '../../app/format';
import { isGoing, progressText, useJobActions, useJobs } from '../../app/Jobs';
import { useKit } from '../../app/kitStore';
import { Pick } from '../../ui/Pick';
import { Shape } from '../../ui/Shape';
import { bringIn, type Incoming, type Progress, sessionsOf } from './bringIn';
import { DropZone } from './DropZone';

export default function Recordings() {
  const kit = useKit((s) => s.kit) as KitState;
  const say = useKit((s) => s.say);
  const queries = useQueryClient();
  const [chosen, setChosen] = useState<number | null>(null);
  const [progress, setProgress] = useState<Progress | null>(null);
  const [adding, setAdding] = useState(false);
  const stop = useRef<AbortController | null>(null);
  const { data: sessions = [] } = useQuery({ queryKey: ['sessions', kit.id], queryFn: () => sessionsOf(kit.id) });
  const { data: jobs } = useJobs();
  const { cancel, again } = useJobActions();
  const reading = jobs?.find((job) => job.kind === 'read_session');
  const going = isGoing(reading) ? reading : undefined;
  const failed = reading && !going && reading.state !== 'done' ? reading : undefined;
  const session = sessions.find((s) => s.id === chosen) ?? sessions.find((s) => s.read) ?? sessions[0];
  const readState = reading?.state;
  // biome-ignore lint/correctness/useExhaustiveDependencies: when a reading ends, what it read is fetched
  useEffect(() => {
    void queries.invalidateQueries({ queryKey: ['sessions'] });
    void queries.invalidateQueries({ queryKey: ['reading'] });
  }, [readState]);

  const { data } = useQuery({
    queryKey: ['reading', session?.id],
    queryFn: () => get<Reading>(`/sessions/${session?.id}`),
    enabled: session?.read === true,
  });

  const bring = async (files: Incoming[], name: string) => {
    if (!files.length) return say('That folder holds no files; choose one with WAV, AIFF or FLAC recordings.');
    stop.current = new AbortController();
    setProgress({ sent: 0, total: files.length });
    try {
      const came = await bringIn(kit.id, name, files, stop.current.signal, setProgress);
      if (came.refused.length) say(came.refused.map((r) => r.why).join(' '));
      setChosen(came.session.id);
      setAdding(false);
    } catch (error) {
      say((error as Error).message);
    }
    setProgress(null);
    await queries.invalidateQueries({ queryKey: ['jobs'] });
    await queries.invalidateQueries({ queryKey: ['sessions'] });
  };

  const refused = (useLocation().state as { refused?: string[] } | null)?.refused ?? [];
  const empty = !session && !progress;
  return (
    <div className="grid min-h-0 grid-cols-[208px_minmax(0,1fr)_264px] max-[1180px]:grid-cols-[180px_minmax(0,1fr)_212px]">
      <aside className="overflow-y-auto border-r border-line px-2.5 py-3" aria-label="Brought in">
        <h3 className="mx-1.5 mb-2 flex justify-between">
          <span>Brought in</span>
          <span>{data ? count(data.files, 'file') : ''}</span>
        </h3>
        <ul>
          {data?.folders.map((folder) => (
            <li key={folder.name} className="flex items-center gap-2 px-1.5 py-[5px] font-medium">
              <Folder size={15} className="shrink-0 text-faint" aria-hidden="true" />
              <span className="grow truncate">{folder.name}</span>
              <span className="tag">{folder.files}</span>
            </li>
          ))}
        </ul>
        {data && (
          <>
            <h3 className="mx-1.5 mt-4 mb-1">Microphones</h3>
            <ul>
              {data.mics.map((mic) => (
                <li key={mic.id} className="flex justify-between px-1.5 py-0.5 text-small">
                  <span className="truncate">{mic.name}</span>
                  <span className="text-faint">
                    {mic.kind}, {mic.width}
                  </span>
                </li>
              ))}
            </ul>
          </>
        )}
      </aside>
      <main className="flex min-h-0 flex-col gap-3 overflow-hidden px-[18px] py-3.5">
        <div className="flex flex-wrap items-center gap-3">
          <h1 className="truncate">{session?.name ?? 'Recordings'}</h1>
          {sessions.length > 1 && session && (
            <Pick
              label="Session"
              value={session.id}
              options={sessions.map((s) => ({ value: s.id, name: s.name }))}
              onChange={setChosen}
            />
          )}
          {data && (
            <span className="text-soft">
              {(data.files - data.unread.length).toLocaleString('en')} of {count(data.files, 'file')} read ·{' '}
              {count(data.takes, 'take')}
            </span>
          )}
          <span className="grow" />
          {!empty && (
            <button type="button" className="btn" onClick={() => setAdding(!adding)} aria-expanded={adding}>
              Add recordings
            </button>
          )}
          {data && session && data.pieces > 0 && <MakePieces sessionId={session.id} pieces={data.pieces} />}
        </div>
        {(empty || adding) && (
          <DropZone onFiles={(files, name) => void bring(files, name)} busy={progress !== null}>
            <h2>{empty ? 'Bring in a recording session' : 'Bring in another session'}</h2>
            <p className="max-w-[560px] text-soft">
              Drop a folder or a zip here. One strike heard by several microphones may be several files: folders named
              by microphone or by piece, names with a strength and a repeat. The files are never changed.
            </p>
          </DropZone>
        )}
        {refused.length > 0 && (
          <p className="rounded-xl bg-amber-wash px-3.5 py-2.5" role="alert">
            {refused.slice(0, 3).join(' ')} {refused.length > 3 && `And ${refused.length - 3} more.`}
          </p>
        )}
        {progress && (
          <p className="card flex items-center gap-3" role="status">
            Sending
            <progress className="grow accent-[var(--zest)]" value={progress.sent} max={progress.total} />
            <span className="num">
              {progress.sent} of {progress.total}
            </span>
            <button type="button" className="btn" onClick={() => stop.current?.abort()}>
              Stop
            </button>
          </p>
        )}
        {going && (
          <p className="card flex items-center gap-3" role="status" data-testid="measuring">
            {progressText(going)}
            <progress className="grow accent-[var(--zest)]" value={going.done} max={going.total || 1} />
            <button type="button" className="btn" onClick={() => void cancel(going)}>
              Cancel
            </button>
          </p>
        )}
        {failed && (
          <p className="flex items-center gap-3 rounded-xl bg-amber-wash px-3.5 py-2.5" role="alert">
            <span className="grow">{failed.message}</span>
            <button type="button" className="btn" onClick={() => void again(failed)}>
              Run again
            </button>
          </p>
        )}
        {data && <Read data={data} />}
      </main>
      <aside
        className="grid grid-cols-[minmax(0,1fr)] content-start gap-2 overflow-y-auto border-l border-line bg-side p-3.5"
        aria-label="Findings"
      >
        <h3>Worth a look first</h3>
        {!data && (
          <p className="text-small text-soft">What is wrong with recordings is listed here once they are read.</p>
        )}
        {data?.findings.length === 0 && <p className="text-small text-soft">Nothing wrong was noticed.</p>}
        {data?.findings.map((finding: Finding) => (
          <FindingCard
            key={`${finding.rule} ${finding.place}`}
            finding={finding}
            mendable={kit.order.includes(finding.where.piece ?? '')}
          />
        ))}
      </aside>
    </div>
  );
}

function MakePieces({ sessionId, pieces }: { sessionId: number; pieces: number }) {
  const kit = useKit((s) => s.kit) as KitState;
  const [busy, setBusy] = useState(false);
  const again = kit.order.length > 0;
  return (
    <button
      type="button"
      className={`btn ${again ? '' : 'btn-go'}`}
      disabled={busy}
      title={again ? 'Makes the pieces of this session anew; undo brings back what you have now' : undefined}
      onClick={async () => {
        setBusy(true);
        try {
          useKit.getState().take(await post<KitState>(`/sessions/${sessionId}/pieces`, { base_version: kit.version }));
        } catch (error) {
          useKit.getState().say((error as Error).message);
        }
        setBusy(false);
      }}
    >
      {again ? `Make ${count(pieces, 'piece')} again` : `Make ${count(pieces, 'piece')}`}
    </button>
  );
}

function Read({ data }: { data: Reading }) {
  const [stroke, setStroke] = useState<string | null>(null);
  const rows = stroke ? data.rows.filter((row) => row.articulation_id === stroke) : data.rows;
  return (
    <>
      <section className="card shrink-0 py-2.5" aria-label="How the names read">
        <h2>How the names read</h2>
        {data.reasons.map((reason) => (
          <p key={reason} className="text-small text-soft">
            {reason}
          </p>
        ))}
      </section>
      <section
        className="grid max-h-[236px] shrink-0 grid-cols-[repeat(auto-fill,minmax(172px,1fr))] gap-2 overflow-y-auto"
        aria-label="Strengths by takes"
      >
        {data.strokes.map((grid) => (
          <StrengthGrid
            key={grid.articulation_id}
            name={`${grid.piece} · ${grid.articulation}`}
            sizes={grid.sizes}
            chosen={stroke === grid.articulation_id}
            onChoose={() => setStroke(stroke === grid.articulation_id ? null : grid.articulation_id)}
          />
        ))}
      </section>
      <Rows rows={rows} unread={stroke ? [] : data.unread} grids={data.strokes} />
    </>
  );
}

function StrengthGrid(props: { name: string; sizes: number[]; chosen: boolean; onChoose: () => void }) {
  const most = Math.max(...props.sizes, 1);
  return (
    <button
      type="button"
      onClick={props.onChoose}
      aria-pressed={props.chosen}
      className={`card flex flex-col justify-start px-3 py-2 text-left ${props.chosen ? 'border-ink' : 'hover:border-edge'}`}
    >
      <span className="w-full truncate text-small font-semibold">{props.name}</span>
      <span className="mb-1.5 block text-tiny text-faint">
        {props.sizes.length} strengths × up to {most} takes
      </span>
      <span
        className="grid w-full gap-[3px]"
        style={{ gridTemplateColumns: `repeat(${props.sizes.length}, 1fr)` }}
        aria-hidden="true"
      >
        {Array.from({ length: most }, (_, row) =>
          props.sizes.map((size, column) => (
            <span
              key={`${row} ${column}`}
              className={`h-[9px] rounded-[2px] ${row < size ? '' : 'hatch'}`}
              style={row < size ? { background: layerColour(column, props.sizes.length) } : undefined}
            />
          )),
        )}
      </span>
    </button>
  );
}

function Rows({ rows, unread, grids }: { rows: TakeRow[]; unread: Reading['unread']; grids: Reading['strokes'] }) {
  const box = useRef<HTMLDivElement>(null);
  const player = useKit((s) => s.player);
  const steps = new Map(grids.map((grid) => [grid.articulation_id, grid.sizes.length]));
  const virtual = useVirtualizer({
    count: unread.length + rows.length,
    getScrollElement: () => box.current,
    estimateSize: () => 40,
    overscan: 8,
  });
  const sound = useRef<HTMLAudioElement | null>(null);
  const listen = (row: TakeRow) => {
    sound.current?.pause();
    sound.current = new Audio(`/api/sounds/${row.content}/48000/mono`);
    void sound.current.play().catch(() => undefined);
    player?.wake();
  };
  const columns =
    'grid grid-cols-[minmax(130px,1.3fr)_minmax(120px,1fr)_132px_74px_76px_60px_30px] items-center gap-3 px-3 max-[1180px]:grid-cols-[minmax(100px,1.3fr)_minmax(90px,1fr)_64px_68px_64px_48px_30px] max-[1180px]:gap-2';
  return (
    <div className="flex min-h-[120px] grow flex-col">
      <div className={`${columns} pb-1 text-tiny font-semibold text-faint`}>
        <span>Recording</span>
        <span>Take</span>
        <span>Strike</span>
        <span className="text-right">Level</span>
        <span className="text-right">Starts</span>
        <span className="text-right">Peak</span>
        <span />
      </div>
      <div
        ref={box}
        className="min-h-0 grow overflow-y-auto rounded-xl border border-line bg-card"
        data-testid="recording-list"
      >
        <div style={{ height: virtual.getTotalSize(), position: 'relative' }}>
          {virtual.getVirtualItems().map((item) => {
            const style = { position: 'absolute' as const, top: item.start, left: 0, right: 0, height: item.size };
            const lost = unread[item.index];
            if (lost) {
              return (
                <div
                  key={lost.path}
                  style={style}
                  className="flex items-center gap-3 border-b border-line bg-amber-wash px-3"
                >
                  <span className="truncate text-small" title={lost.why}>
                    <b>Not read:</b> {lost.why}
                  </span>
                </div>
              );
            }
            const row = rows[item.index - unread.length] as TakeRow;
            return (
              <div
                key={`${row.articulation_id} ${row.label} ${row.file}`}
                style={style}
                className={`${columns} border-b border-line`}
              >
                <span className="num truncate" title={row.file}>
                  {row.file.split('/').pop()} <span className="text-faint">×{row.recordings}</span>
                </span>
                <span className="truncate text-small">
                  {row.piece} · {row.articulation} <span className="num text-faint">{row.label}</span>
                  {row.hand && <span className="text-faint"> {row.hand}</span>}
                </span>
                <Shape
                  shape={row.shape}
                  width={128}
                  height={26}
                  colour={layerColour(Math.max(1, row.step), steps.get(row.articulation_id) ?? 1)}
                />
                <span className="num text-right">{decibels(row.level_db)} dB</span>
                <span className="num text-right">{row.start_ms.toFixed(1)} ms</span>
                <span className="num text-right">{decibels(row.peak_dbfs)}</span>
                <button
                  type="button"
                  className="rounded-md p-1.5 text-soft hover:bg-sunk"
                  aria-label={`Hear ${row.file}`}
                  onClick={() => listen(row)}
                >
                  <Play size={13} />
                </button>
              </div>
            );
          })}
        </div>
      </div>
    </div>
  );
}
