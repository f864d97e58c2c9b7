/** Delivery: stems for each output, and the kit as one self-contained file. */

import { Download } from 'lucide-react';
import type { Job, KitState } from '../../api/calls';
import { FindingsHere } from '../../app/findings/Findings';
import { decibels } from '../../app/kit/format';
import { useKit } from '../../app/kit/kitStore';
import { useWrite } from '../../app/kit/writes';
import { isGoing, progressText, useJobActions, useJobs } from '../../app/shell/Jobs';
import { EXPORTS } from './exports/kinds';

export default function Delivery() {
  const kit = useKit((s) => s.kit) as KitState;
  const { data: jobs = [] } = useJobs();
  const made = jobs.filter((job) => job.export);
  const { send } = useWrite((asking: Promise<Job>) => asking, { changes: ['jobs'] });
  return (
    <div className="panes grid min-h-0 grid-cols-[minmax(0,1fr)_264px] max-[1180px]:grid-cols-[minmax(0,1fr)_212px]">
      <main className="flex min-h-0 flex-col gap-3.5 overflow-auto px-[18px] py-3.5">
        <h1>Delivery</h1>
        <div className="grid grid-cols-2 gap-3.5">
          {EXPORTS.map((Export) => (
            <Export key={Export.name} begin={send} empty={kit.order.length === 0} />
          ))}
        </div>
        <section className="grid gap-2" aria-label="Finished files">
          <h2>Finished files</h2>
          {made.length === 0 && (
            <p className="text-soft">Nothing yet. Files you render or save are listed here to download.</p>
          )}
          {made.map((job) => (
            <JobRow key={job.id} job={job} />
          ))}
        </section>
      </main>
      <aside
        className="grid grid-cols-[minmax(0,1fr)] content-start gap-4 overflow-y-auto border-l border-line bg-side p-3.5"
        aria-label="Before you deliver"
      >
        <FindingsHere step="delivery" belongs={(f) => f.level === 'wrong' || f.where.step === 'routing'} />
      </aside>
    </div>
  );
}

const ENDS: Record<Job['state'], string> = {
  waiting: 'waiting',
  running: 'running',
  done: 'done',
  failed: 'failed',
  cancelled: 'cancelled',
  stopped: 'stopped',
};

function JobRow({ job }: { job: Job }) {
  const { cancel, again } = useJobActions();
  return (
    <article className="card grid gap-2" data-job={job.export} data-state={job.state}>
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
      {job.parts.length > 0 && (
        <ul className="grid grid-cols-3 gap-x-4 gap-y-1">
          {job.parts.map((file, place) => (
            <li key={file.file} className="flex items-baseline gap-2 text-small">
              <a className="link min-h-6 content-center truncate" href={`/api/jobs/${job.id}/parts/${place}`} download>
                {file.file}
              </a>
              <span className="num text-faint">{file.width}</span>
              <span className="grow" />
              {file.peak_dbfs !== null && (
                <span className={`num ${file.clipped_samples ? 'font-bold text-amber' : ''}`}>
                  {decibels(file.peak_dbfs)} dBFS{file.clipped_samples ? ', clips' : ''}
                </span>
              )}
            </li>
          ))}
        </ul>
      )}
    </article>
  );
}
