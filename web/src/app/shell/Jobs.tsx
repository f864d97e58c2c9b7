/** Jobs, wherever they were started: shown at the foot with progress and cancel. */
import { useQuery } from '@tanstack/react-query';
import { X } from 'lucide-react';
import { get, type Job, post } from '../../api/calls';
import { useImporting } from '../importing/importing';
import { useKit } from '../kit/kitStore';
import { useWrite } from '../kit/writes';

export const isGoing = (job: Job | undefined) => job?.state === 'waiting' || job?.state === 'running';

/** Whether a job is a finished export. */
export const isDelivered = (job: Job) => job.export !== null && job.state === 'done';

/** A job in progress; polls until it has ended. */
export function useJob(id: string | null) {
  return useQuery({
    queryKey: ['job', id],
    queryFn: () => get('/api/jobs/{job_id}', { job_id: id as string }),
    enabled: id !== null,
    refetchInterval: (query) => (query.state.data && !isGoing(query.state.data) ? false : 350),
  });
}

export function useJobs() {
  const kitId = useKit((s) => s.kit?.id);
  return useQuery({
    queryKey: ['jobs', kitId],
    queryFn: () => get('/api/kits/{kit_id}/jobs', { kit_id: kitId as string }),
    enabled: kitId !== undefined,
    refetchInterval: (query) => (query.state.data?.some(isGoing) ? 350 : 6000),
  });
}

export function useJobActions() {
  const changes = ['jobs', 'job'];
  const cancel = useWrite((job: Job) => post('/api/jobs/{job_id}/cancel', { job_id: job.id }), { changes });
  const again = useWrite((job: Job) => post('/api/jobs/{job_id}/again', { job_id: job.id }), { changes });
  return { cancel: cancel.send, again: again.send };
}

export const progressText = (job: Job) => {
  if (job.away) return `${job.title}: waiting for the studio's worker, which is not responding`;
  if (job.state === 'waiting') return `${job.title}: waiting`;
  if (job.kind === 'read_session' && job.total) return `${job.title}: ${job.done} of ${job.total}`;
  return job.total ? `${job.title}: ${Math.round((100 * job.done) / job.total)} %` : job.title;
};

export function JobProgress() {
  const { data } = useJobs();
  const { cancel } = useJobActions();
  const sending = useImporting((s) => s.going);
  const stop = useImporting((s) => s.stop);
  const job = data?.find(isGoing);
  if (sending && !job) {
    const text = `Sending ${sending.name}: ${sending.done} of ${sending.total}`;
    return <Going text={text} share={sending.done / sending.total} end="Stop sending" onEnd={stop} />;
  }
  if (!job) return null;
  return (
    <Going
      text={progressText(job)}
      share={job.total ? job.done / job.total : 0.04}
      end={`Cancel: ${job.title}`}
      onEnd={() => void cancel(job)}
    />
  );
}

function Going({ text, share, end, onEnd }: { text: string; share: number; end: string; onEnd: () => void }) {
  return (
    <span className="flex min-w-0 items-center gap-2.5" role="status">
      <span className="num truncate text-foot-soft">{text}</span>
      <span className="h-2 w-[110px] shrink-0 overflow-hidden rounded-full bg-foot-line">
        <span className="block h-full rounded-full bg-[#9bb63f]" style={{ width: `${100 * share}%` }} />
      </span>
      <button
        type="button"
        className="rounded p-1 text-foot-soft hover:bg-foot-line"
        aria-label={end}
        title={end}
        onClick={onEnd}
      >
        <X size={14} />
      </button>
    </span>
  );
}
