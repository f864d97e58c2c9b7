/** Waiting for a job's end. */
import { get, type Job } from '../../api/calls';

const ASKS_MS = 300;

export const untilEnded = async (jobId: string): Promise<Job> => {
  for (;;) {
    const job = await get('/api/jobs/{job_id}', { job_id: jobId });
    if (job.state !== 'waiting' && job.state !== 'running') return job;
    await new Promise((resolve) => setTimeout(resolve, ASKS_MS));
  }
};
