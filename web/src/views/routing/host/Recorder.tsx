/** The simulated host's recorder: it plays a groove and fills its tracks with the stems. */

import { Circle, Download } from 'lucide-react';
import { useState } from 'react';
import { type Job, type KitState, post } from '../../../api/calls';
import { transport, useKit } from '../../../app/kit/kitStore';
import { useWrite } from '../../../app/kit/writes';
import { useGrooves } from '../../../app/playing/grooves';
import { isGoing, progressText, useJobActions, useJobs } from '../../../app/shell/Jobs';
import { Pick } from '../../../ui/Pick';

/** What the host recorded last, or is recording. */
export function useTake(): Job | undefined {
  const { data: jobs = [] } = useJobs();
  const takes = jobs.filter((job) => job.export === 'host-take');
  return takes.find(isGoing) ?? takes.find((job) => job.state === 'done');
}

export function Recorder({ take }: { take: Job | undefined }) {
  const kit = useKit((s) => s.kit) as KitState;
  const { cancel } = useJobActions();
  const { data: grooves = [] } = useGrooves();
  const [groove, setGroove] = useState<number | null>(transport.groove?.id ?? null);
  const chosen = groove ?? grooves[0]?.id ?? null;
  const { send: record } = useWrite(
    () => post('/api/kits/{kit_id}/exports/host-take', { kit_id: kit.id }, { groove: chosen as number }),
    { changes: ['jobs'] },
  );
  return (
    <div className="flex flex-wrap items-center gap-2 text-small">
      <span>{kit.head.host} records</span>
      <Pick
        label="Groove"
        value={chosen ?? 0}
        options={grooves.map((each) => ({ value: each.id, name: each.name }))}
        onChange={setGroove}
      />
      {take && isGoing(take) ? (
        <>
          <progress
            className="w-[140px] accent-[var(--zest)]"
            value={take.done}
            max={take.total || 1}
            aria-label={progressText(take)}
          />
          <button type="button" className="btn" onClick={() => void cancel(take)}>
            Stop recording
          </button>
        </>
      ) : (
        <button
          type="button"
          className="btn"
          disabled={chosen === null || !kit.order.length}
          onClick={() => void record()}
        >
          <Circle size={11} className="mr-1 inline fill-current align-[-1px] text-zest" aria-hidden="true" />
          Record
        </button>
      )}
      {take?.state === 'done' && take.download && (
        <>
          {take.version !== kit.version && <span className="text-amber">recorded before the kit was changed</span>}
          <a className="link" href={take.download} download>
            <Download size={12} className="mr-0.5 inline align-[-1px]" aria-hidden="true" />
            Tracks as stems
          </a>
        </>
      )}
    </div>
  );
}
