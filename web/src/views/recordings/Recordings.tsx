/** Recordings: bring in what was recorded, see how it was read, make pieces of it. */
import { useQuery } from '@tanstack/react-query';
import { Folder } from 'lucide-react';
import { useEffect, useState } from 'react';
import { get, type KitState, post, type Reading, type SessionShown } from '../../api/calls';
import { cameText, useBringing } from '../../app/bringing';
import { FindingList, useFindings } from '../../app/Findings';
import { count, layerColour } from '../../app/format';
import { isGoing, progressText, useJobActions, useJobs } from '../../app/Jobs';
import { useKit } from '../../app/kitStore';
import { queries } from '../../app/queries';
import { Pick } from '../../ui/Pick';
import { Channels } from './Channels';
import { Columns } from './Columns';
import { DropZone } from './DropZone';
import { InboxPick } from './InboxPick';
import { dragsFile, placeIn, UnreadFiles } from './Placing';
import { RecordingList } from './RecordingList';

export default function Recordings() {
  const kit = useKit((s) => s.kit) as KitState;
  const [chosen, setChosen] = useState<number | null>(null);
  const [adding, setAdding] = useState(false);
  const bringing = useBringing();
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
  // biome-ignore lint/correctness/useExhaustiveDependencies: when a reading ends, what it read is fetched
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
    <div className="grid min-h-0 grid-cols-[208px_minmax(0,1fr)_264px] max-[1180px]:grid-cols-[180px_minmax(0,1fr)_212px]">
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
            <h2>{empty ? 'Bring in a recording session' : 'Bring in another session'}</h2>
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
              {sending.known > 0 && `, ${sending.known.toLocaleString('en')} here already`}
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

function Brought({ data }: { data: Reading | undefined }) {
  return (
    <aside className="overflow-y-auto border-r border-line px-2.5 py-3" aria-label="Brought in">
      <h3 className="mx-1.5 mb-2 flex justify-between">
        <span>Brought in</span>
        <span>{data ? count(data.files, 'file') : ''}</span>
      </h3>
      <ul>
        {data?.folders.map((folder) => (
          <li key={folder.name} className="flex items-center gap-2 px-1.5 py-[5px] font-medium">
            <Folder size={15} className="shrink-0 text-faint" aria-hidden="true" />
            <span className="grow truncate" title={folder.name}>
              {folder.name}
            </span>
            <span className="tag">{folder.files}</span>
          </li>
        ))}
      </ul>
      {data && (
        <>
          <h3 className="mx-1.5 mt-4 mb-1">Microphones</h3>
          <ul>
            {data.mics.map((mic) => (
              <li key={mic.id} className="flex justify-between gap-2 px-1.5 py-0.5 text-small">
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
  );
}

function CameIn(props: { text: string; refused: { path: string; why: string }[]; onClose: () => void }) {
  return (
    <div className="flex shrink-0 items-start gap-3 rounded-xl bg-amber-wash px-3.5 py-2" role="alert">
      <div className="min-w-0 grow">
        {props.text}
        {props.refused.length > 0 && (
          <ul className="max-h-24 overflow-y-auto text-small">
            {props.refused.slice(0, 200).map((entry) => (
              <li key={entry.path}>{entry.why}</li>
            ))}
          </ul>
        )}
      </div>
      <button type="button" className="btn" onClick={props.onClose}>
        Close
      </button>
    </div>
  );
}

/** Files that came in and were not read: stopped half way, or cancelled. */
function Waiting({ session }: { session: SessionShown }) {
  const { say } = useKit.getState();
  if (!session.files) return null;
  return (
    <p className="card flex shrink-0 items-center gap-3 py-2">
      <span className="grow">
        {count(session.files, 'file')} of “{session.name}” came in and are kept. Choose the folder again to go on, or
        read what is here.
      </span>
      <button
        type="button"
        className="btn btn-go"
        onClick={() =>
          void post('/api/sessions/{session_id}/read', { session_id: session.id })
            .then(() => queries.invalidateQueries({ queryKey: ['jobs'] }))
            .catch((error: Error) => say(error.message))
        }
      >
        Read what is here
      </button>
    </p>
  );
}

function MakePieces({ data, session }: { data: Reading; session: SessionShown }) {
  const kit = useKit((s) => s.kit) as KitState;
  const pieces = useKit((s) => s.pieces);
  const [busy, setBusy] = useState(false);
  const again = data.strokes.some((stroke) => kit.order.includes(stroke.piece_id));
  const into = session.adds_to ? (pieces.get(session.adds_to)?.name ?? null) : null;
  if (session.adds_to && !into) return null;
  const what = into
    ? `Add ${count(data.takes, 'take')} to ${into}`
    : `Make ${count(data.pieces, 'piece')}${again ? ' again' : ''}`;
  return (
    <button
      type="button"
      className={`btn ${again || into ? '' : 'btn-go'}`}
      disabled={busy}
      title={again ? 'Makes the pieces of this session anew; undo brings back what you have now' : undefined}
      onClick={async () => {
        setBusy(true);
        try {
          useKit
            .getState()
            .take(
              await post(
                '/api/sessions/{session_id}/pieces',
                { session_id: session.id },
                { base_version: kit.version },
              ),
            );
        } catch (error) {
          useKit.getState().say((error as Error).message);
        }
        setBusy(false);
      }}
    >
      {what}
    </button>
  );
}

function Read({ data }: { data: Reading }) {
  const [stroke, setStroke] = useState<string | null>(null);
  const kit = useKit((s) => s.kit) as KitState;
  const { data: ofKit = [] } = useFindings();
  const made = data.strokes.some((s) => kit.order.includes(s.piece_id));
  const findings = (made ? ofKit : data.findings).filter((f) => !f.settled);
  return (
    <>
      {data.many_channels > 0 && <Channels data={data} />}
      <Columns data={data} />
      <section
        className="flex shrink-0 gap-2 overflow-x-auto pb-1"
        aria-label="Strengths by takes"
        data-testid="strokes"
      >
        {data.strokes.map((grid) => (
          <StrengthGrid
            key={grid.articulation_id}
            name={`${grid.piece} · ${grid.articulation}`}
            sizes={grid.sizes}
            chosen={stroke === grid.articulation_id}
            onChoose={() => setStroke(stroke === grid.articulation_id ? null : grid.articulation_id)}
            onPlace={(path) => placeIn(data, path, grid.articulation_id)}
          />
        ))}
      </section>
      <RecordingList data={data} stroke={stroke} findings={findings} />
    </>
  );
}

interface StrengthGridProps {
  name: string;
  sizes: number[];
  chosen: boolean;
  onChoose: () => void;
  onPlace: (path: string) => void;
}

function StrengthGrid(props: StrengthGridProps) {
  const [over, setOver] = useState(false);
  const most = Math.max(...props.sizes, 1);
  const row = Math.max(2, Math.min(9, Math.floor(44 / most) - 2));
  return (
    <button
      type="button"
      onClick={props.onChoose}
      onDragOver={(event) => {
        if (!event.dataTransfer.types.includes(dragsFile)) return;
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        setOver(false);
        const path = event.dataTransfer.getData(dragsFile);
        if (path) props.onPlace(path);
      }}
      aria-pressed={props.chosen}
      className={`card flex w-[154px] shrink-0 flex-col justify-start px-3 py-1.5 text-left ${
        over ? 'border-plum bg-plum-wash' : props.chosen ? 'border-ink' : 'hover:border-edge'
      }`}
    >
      <span className="w-full truncate text-small font-semibold">{props.name}</span>
      <span className="mb-1 block text-tiny text-faint">
        {props.sizes.length} × up to {most} takes
      </span>
      <span
        className="grid w-full gap-[2px]"
        style={{ gridTemplateColumns: `repeat(${props.sizes.length}, 1fr)` }}
        aria-hidden="true"
      >
        {Array.from({ length: most }, (_, place) =>
          props.sizes.map((size, column) => (
            <span
              key={`${place} ${column}`}
              className={`rounded-[2px] ${place < size ? '' : 'hatch'}`}
              style={{ height: row, ...(place < size ? { background: layerColour(column, props.sizes.length) } : {}) }}
            />
          )),
        )}
      </span>
    </button>
  );
}

function Noticed({ data }: { data: Reading | undefined }) {
  const kit = useKit((s) => s.kit) as KitState;
  const { data: ofKit = [] } = useFindings();
  const made = data?.strokes.some((s) => kit.order.includes(s.piece_id)) ?? false;
  const ids = new Set(data?.strokes.map((s) => s.piece_id));
  const findings = made
    ? ofKit.filter((f) => ['recordings', 'layers'].includes(f.where.step) && ids.has(f.where.piece ?? ''))
    : (data?.findings.filter((f) => f.rule !== 'unread') ?? []);
  return (
    <aside
      className="grid grid-cols-[minmax(0,1fr)] content-start gap-2 overflow-y-auto border-l border-line bg-side p-3.5"
      aria-label="Findings"
    >
      <h3>Worth a look first</h3>
      {!data && (
        <p className="text-small text-soft">What is wrong with recordings is listed here once they are read.</p>
      )}
      {data && <UnreadFiles data={data} />}
      {data && !made && findings.length > 0 && (
        <p className="text-small text-soft">Make the pieces, and each of these can be mended here.</p>
      )}
      {data && !findings.some((f) => !f.settled) && <p className="text-small text-soft">Nothing wrong was noticed.</p>}
      <FindingList findings={findings} mendable={made} />
    </aside>
  );
}
