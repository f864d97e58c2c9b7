/** Delivery: keep it and carry it. Stems per output, and the kit as one self-contained file. */
import { useQueryClient } from '@tanstack/react-query';
import { Download } from 'lucide-react';
import { useState } from 'react';
import { type Job, type KitState, post, type Stems } from '../../api/calls';
import { FindingsHere } from '../../app/Findings';
import { count, decibels } from '../../app/format';
import { useGrooves } from '../../app/grooves';
import { isGoing, progressText, useJobActions, useJobs } from '../../app/Jobs';
import { transport, useKit } from '../../app/kitStore';
import { rules } from '../../app/rules';
import { Pick } from '../../ui/Pick';

type Rate = NonNullable<Stems['rate_hz']>;
type Bits = NonNullable<Stems['bits']>;
const SHOWN = new Set(['render_stems', 'save_kit_file']);

export default function Delivery() {
  const kit = useKit((s) => s.kit) as KitState;
  const say = useKit((s) => s.say);
  const edit = useKit((s) => s.edit);
  const queries = useQueryClient();
  const { data: grooves = [] } = useGrooves();
  const { data: jobs = [] } = useJobs();
  const [groove, setGroove] = useState<number | null>(transport.groove?.id ?? null);
  const [rate, setRate] = useState(kit.head.rate_hz as Rate);
  const [bits, setBits] = useState<Bits>(24);
  const [name, setName] = useState(kit.head.name);
  const chosen = groove ?? grooves[0]?.id ?? null;
  const outputs = kit.head.outputs_used;
  const named = outputs.map((n) => kit.head.outputs.find((o) => o.number === n)?.name ?? String(n));
  const start = async (asking: Promise<Job>) => {
    try {
      await asking;
    } catch (error) {
      say((error as Error).message);
    }
    await queries.invalidateQueries({ queryKey: ['jobs'] });
  };
  const empty = kit.order.length === 0;
  return (
    <div className="grid min-h-0 grid-cols-[minmax(0,1fr)_264px] max-[1180px]:grid-cols-[minmax(0,1fr)_212px]">
      <main className="flex min-h-0 flex-col gap-3.5 overflow-auto px-[18px] py-3.5">
        <h1>Delivery</h1>
        <div className="grid grid-cols-2 gap-3.5">
          <section className="card grid content-start gap-2.5" aria-label="Stems">
            <h2 className="text-[15px]">Stems</h2>
            <p className="text-soft">
              One WAV file an output, exactly what you hear: {count(outputs.length, 'file')} as the kit is routed now
              {named.length ? ` (${named.join(', ')})` : ''}.
            </p>
            <div className="grid grid-cols-[90px_1fr] items-center gap-y-2">
              <span>Groove</span>
              <Pick
                label="Groove"
                value={chosen ?? 0}
                options={grooves.map((g) => ({ value: g.id, name: `${g.name}, ${g.length_s.toFixed(1)} s` }))}
                onChange={setGroove}
              />
              <span>Sample rate</span>
              <Pick
                label="Sample rate"
                value={rate}
                options={rules().rates_hz.map((value) => ({ value: value as Rate, name: `${value / 1000} kHz` }))}
                onChange={setRate}
              />
              <span>Bits</span>
              <Pick
                label="Bits"
                value={bits}
                options={rules().bits.map((value) => ({
                  value: value as Bits,
                  name: value === 32 ? '32, floating point' : String(value),
                }))}
                onChange={setBits}
              />
            </div>
            <button
              type="button"
              className="btn btn-go justify-self-start"
              disabled={chosen === null || empty}
              onClick={() =>
                void start(
                  post(
                    '/api/kits/{kit_id}/stems',
                    { kit_id: kit.id },
                    { groove: chosen as number, rate_hz: rate, bits },
                  ),
                )
              }
            >
              Render stems
            </button>
          </section>
          <section className="card grid content-start gap-2.5" aria-label="Kit file">
            <h2 className="text-[15px]">Kit file</h2>
            <p className="text-soft">
              The kit and all its recordings in one file that opens on any machine: layers, notes, touch and routing as
              they stand now. Recordings are packed without loss.
            </p>
            <label className="grid grid-cols-[90px_1fr] items-center">
              <span>Name</span>
              <input
                className="pick"
                value={name}
                maxLength={120}
                onChange={(event) => setName(event.target.value)}
                onBlur={() =>
                  name.trim() && name.trim() !== kit.head.name
                    ? void edit({ kind: 'rename_kit', name: name.trim() }).then(() =>
                        queries.invalidateQueries({ queryKey: ['kits'] }),
                      )
                    : setName(kit.head.name)
                }
                onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
              />
            </label>
            <button
              type="button"
              className="btn btn-go justify-self-start"
              disabled={empty}
              onClick={() => void start(post('/api/kits/{kit_id}/file', { kit_id: kit.id }))}
            >
              Save the kit file
            </button>
          </section>
        </div>
        <section className="grid gap-2" aria-label="Made so far">
          <h2>Made so far</h2>
          {jobs.filter((job) => SHOWN.has(job.kind)).length === 0 && (
            <p className="text-soft">Nothing yet. What you render or save is listed here to download.</p>
          )}
          {jobs
            .filter((job) => SHOWN.has(job.kind))
            .map((job) => (
              <JobRow key={job.id} job={job} />
            ))}
        </section>
      </main>
      <aside
        className="grid grid-cols-[minmax(0,1fr)] content-start gap-4 overflow-y-auto border-l border-line bg-side p-3.5"
        aria-label="Before you deliver"
      >
        <FindingsHere belongs={(f) => f.level === 'wrong' || f.where.step === 'routing'} />
      </aside>
    </div>
  );
}

const ENDS: Record<Job['state'], string> = {
  waiting: 'waiting',
  running: 'running',
  done: 'done',
  failed: 'did not work',
  cancelled: 'cancelled',
  stopped: 'stopped',
};

function JobRow({ job }: { job: Job }) {
  const { cancel, again } = useJobActions();
  return (
    <article className="card grid gap-2" data-job={job.kind} data-state={job.state}>
      <div className="flex items-center gap-3">
        <b className="font-semibold">{job.title}</b>
        <span className="text-soft">{ENDS[job.state]}</span>
        {isGoing(job) && (
          <>
            <progress
              className="grow accent-[var(--zest)]"
              value={job.done}
              max={job.total || 1}
              aria-label={progressText(job)}
            />
            <button type="button" className="btn" onClick={() => void cancel(job)}>
              Cancel
            </button>
          </>
        )}
        {!isGoing(job) && <span className="grow text-small text-soft">{job.message}</span>}
        {job.download && (
          <a className="btn btn-go" href={job.download} download>
            <Download size={13} aria-hidden="true" /> Download
          </a>
        )}
        {!isGoing(job) && job.state !== 'done' && (
          <button type="button" className="btn" onClick={() => void again(job)}>
            Run again
          </button>
        )}
      </div>
      {job.stems.length > 0 && (
        <ul className="grid grid-cols-3 gap-x-4 gap-y-1">
          {job.stems.map((stem) => (
            <li key={stem.output} className="flex items-baseline gap-2 text-small">
              <a className="link truncate" href={`/api/jobs/${job.id}/stems/${stem.output}`} download>
                {stem.file}
              </a>
              <span className="num text-faint">{stem.width}</span>
              <span className="grow" />
              <span className={`num ${stem.clipped_samples ? 'font-bold text-amber' : ''}`}>
                {decibels(stem.peak_dbfs)} dBFS{stem.clipped_samples ? ', clips' : ''}
              </span>
            </li>
          ))}
        </ul>
      )}
    </article>
  );
}
