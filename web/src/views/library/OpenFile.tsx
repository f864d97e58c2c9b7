/** Opens saved files: kits and pieces by a job, small items at once. */
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { type Job, postForm } from '../../api/calls';
import { rules } from '../../app/kit/rules';
import { isGoing, progressText, useJob } from '../../app/shell/Jobs';
import { tell, useDoing } from './doing';
import { useCounts } from './finding';

const packed = (name: string) =>
  [rules().kit_suffix, rules().piece_suffix].some((suffix) => name.toLowerCase().endsWith(suffix));

export const isOurFile = (name: string) => packed(name) || /\.(json|mid|midi)$/i.test(name);

interface Opening {
  job: Job | undefined;
  open: (file: File) => Promise<void>;
}

export function useOpening(kind: string): Opening {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const doing = useDoing();
  const [jobId, setJobId] = useState<string | null>(null);
  const { data: job } = useJob(jobId);
  useEffect(() => {
    if (!job || isGoing(job)) return;
    setJobId(null);
    if (job.state !== 'done') return tell(job.message, true);
    void queries.invalidateQueries({ queryKey: ['library'] });
    void queries.invalidateQueries({ queryKey: ['kits'] });
    if (job.problems.length) tell(job.problems.join(' '), true);
    else if (job.kit) navigate(`/kits/${job.kit}/layers`);
    else if (job.piece) navigate('/library/pieces');
  }, [job, navigate, queries]);
  const open = async (file: File) => {
    tell(null);
    const form = new FormData();
    form.append('file', file);
    if (packed(file.name) || kind === 'kits' || kind === 'pieces') {
      const begun = await doing(() => postForm('/api/kit-files', {}, form));
      if (begun) setJobId(begun.id);
    } else if (/\.midi?$/i.test(file.name)) {
      const came = await doing(() => postForm('/api/grooves', {}, form));
      if (came) navigate('/library/grooves');
    } else {
      const address = `/api/shelf-files/${kind}` as '/api/shelf-files/curves';
      const card = await doing(() => postForm(address, {}, form));
      if (card) tell(`${card.name} is saved.`);
    }
  };
  return { job: jobId ? job : undefined, open };
}

export function OpenFile({ opening, kind }: { opening: Opening; kind: string }) {
  const input = useRef<HTMLInputElement>(null);
  const found = useCounts().data?.kinds.find((each) => each.kind === kind);
  const file =
    kind === 'kits' ? `${rules().kit_suffix},${rules().piece_suffix}` : kind === 'grooves' ? '.mid,.midi' : found?.file;
  const { job } = opening;
  return (
    <>
      {job && isGoing(job) && (
        <span className="num text-soft" role="status">
          {progressText(job)}
        </span>
      )}
      {file && (
        <button type="button" className="btn" disabled={job !== undefined} onClick={() => input.current?.click()}>
          Open a {kind === 'grooves' ? 'MIDI' : (found?.noun ?? 'kit')} file
        </button>
      )}
      <input
        ref={input}
        type="file"
        hidden
        accept={file}
        data-testid="kit-file-input"
        onChange={(event) => {
          const chosen = event.target.files?.[0];
          event.target.value = '';
          if (chosen) void opening.open(chosen);
        }}
      />
    </>
  );
}
