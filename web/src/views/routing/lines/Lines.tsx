/**
 * The line check: every articulation struck alone, its peak at every output, and whether that is where it should be.
 */

import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Check, TriangleAlert } from 'lucide-react';
import { useEffect } from 'react';
import { create } from 'zustand';
import { type Finding, get, type Job, type KitState, type Line, post } from '../../../api/calls';
import { FindingList } from '../../../app/findings/Findings';
import { decibels, minus } from '../../../app/kit/format';
import { articulationIn, useKit } from '../../../app/kit/kitStore';
import { useFindings } from '../../../app/kit/noticed';
import { useWrite } from '../../../app/kit/writes';
import { isGoing, progressText, useJob, useJobActions } from '../../../app/shell/Jobs';
import { howItWent, verdictSaid } from './verdicts';

const useChecking = create<{ kit: string; job: string | null; aloud: boolean }>(() => ({
  kit: '',
  job: null,
  aloud: false,
}));

/** Plays what is being struck, as fast as it can be followed. */
function useAloud(job: Job | undefined) {
  const aloud = useChecking((s) => s.aloud);
  const { data } = useLines();
  const done = job && isGoing(job) ? job.done : 0;
  const articulation = aloud && done > 0 ? data?.articulations[done - 1] : undefined;
  const struckAt = data?.struck_at;
  useEffect(() => {
    if (articulation && struckAt) strike(articulation, struckAt);
  }, [articulation, struckAt]);
}

function strike(articulation: string, velocity: number) {
  const { player } = useKit.getState();
  player?.wake();
  player?.strikeArticulation('line', articulation, velocity);
}

function useLines() {
  const kit = useKit((s) => s.kit?.id as string);
  const version = useKit((s) => s.kit?.version);
  return useQuery({
    queryKey: ['lines', kit, version],
    // For the same kit, the last result is shown until the next arrives.
    placeholderData: (last, query) => (query?.queryKey[1] === kit ? last : undefined),
    queryFn: () => get('/api/kits/{kit_id}/lines', { kit_id: kit }),
    staleTime: Number.POSITIVE_INFINITY,
  });
}

/** The check in progress, if any. */
function useGoing(): Job | undefined {
  const kit = useKit((s) => s.kit?.id as string);
  const checking = useChecking();
  const { data: job } = useJob(checking.kit === kit ? checking.job : null);
  const queries = useQueryClient();
  const ended = job && !isGoing(job) ? job.id : null;
  useEffect(() => {
    if (ended) void queries.invalidateQueries({ queryKey: ['lines'] });
  }, [ended, queries]);
  return job;
}

export function LineCheckButton() {
  const kit = useKit((s) => s.kit?.id as string);
  const job = useGoing();
  useAloud(job);
  const { send: check } = useWrite(
    async () => {
      const begun = await post('/api/kits/{kit_id}/lines', { kit_id: kit });
      useChecking.setState({ kit, job: begun.id });
    },
    { changes: ['jobs'] },
  );
  const { cancel } = useJobActions();
  if (job && isGoing(job)) {
    return (
      <button type="button" className="btn" onClick={() => void cancel(job)}>
        Stop the check
      </button>
    );
  }
  return (
    <button type="button" className="btn btn-go" onClick={() => void check()}>
      Check lines
    </button>
  );
}

export function Lines() {
  const kit = useKit((s) => s.kit) as KitState;
  const aloud = useChecking((s) => s.aloud);
  const { data } = useLines();
  const job = useGoing();
  const numbers = [...new Set((data?.lines ?? []).flatMap((line) => line.outputs.map((output) => output.number)))];
  // With the names at the time of the check: the kit may have another host now.
  const names = new Map((data?.lines ?? []).flatMap((line) => line.outputs.map(({ number, name }) => [number, name])));
  if (!data) return null;
  if (!data.lines.length && !job) {
    return (
      <p className="max-w-[72ch] text-small text-soft">
        <b className="font-semibold text-ink">Line check.</b> Every articulation is struck alone at {data.struck_at},
        with treatments, sends and mutes as they are, and its peak is measured at every output of {kit.head.host}. Press
        “Check lines” to list what arrives nowhere, twice, on one side only, or where it was not planned.
      </p>
    );
  }
  return (
    <>
      <p
        className="flex flex-wrap items-center gap-x-3 text-small text-soft"
        aria-live="polite"
        data-testid="lines-said"
      >
        {job && isGoing(job) ? (
          progressText(job)
        ) : job?.state === 'failed' || job?.state === 'stopped' ? (
          <span className="text-amber">{job.message}</span>
        ) : (
          <span>
            <b className="font-semibold text-ink">Line check</b> · every articulation struck alone at {data.struck_at},
            peaks in dBFS · {howItWent(data.lines)}
          </span>
        )}
        <label className="flex items-center gap-1">
          <input
            type="checkbox"
            checked={aloud}
            onChange={(event) => useChecking.setState({ aloud: event.target.checked })}
          />
          audible
        </label>
        {data.version !== null && data.version !== kit.version && (
          <span className="text-amber">the kit was changed since</span>
        )}
      </p>
      <div className="relative max-h-[max(240px,calc(100dvh-250px))] shrink-0 overflow-auto" data-testid="lines">
        <table className="border-separate border-spacing-[3px]">
          <caption className="sr-only">The peak of every articulation at every output, in dBFS</caption>
          <thead>
            <tr>
              <th
                scope="col"
                className="sticky top-0 left-0 z-20 bg-paper text-left text-tiny font-semibold text-faint"
              >
                Articulation
              </th>
              {numbers.map((number) => (
                <th key={number} scope="col" className="sticky top-0 z-10 w-[50px] bg-paper align-bottom">
                  <span className="num block text-[12px] text-soft">{number}</span>
                  <span
                    className="block max-w-[56px] truncate text-[11.5px] font-normal text-faint"
                    title={names.get(number)}
                  >
                    {names.get(number)}
                  </span>
                </th>
              ))}
              <th
                scope="col"
                className="sticky top-0 right-0 z-20 bg-paper pl-2 text-left text-tiny font-semibold text-faint"
              >
                Arrives
              </th>
            </tr>
          </thead>
          <tbody>
            {data.lines.map((line) => (
              <Row key={line.articulation} line={line} numbers={numbers} struckAt={data.struck_at} />
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
}

function Row({ line, numbers, struckAt }: { line: Line; numbers: number[]; struckAt: number }) {
  const pieces = useKit((s) => s.pieces);
  const found = articulationIn(pieces, line.articulation);
  const byNumber = new Map(line.outputs.map((output) => [output.number, output]));
  const fine = line.verdict === 'as_planned';
  return (
    <tr>
      <th scope="row" className="sticky left-0 z-10 bg-paper pr-3 text-left font-normal whitespace-nowrap">
        <button
          type="button"
          className="min-h-6 text-left text-small hover:underline"
          disabled={!found}
          onClick={() => strike(line.articulation, struckAt)}
        >
          <b className="font-semibold">{found?.piece.name ?? line.piece}</b>{' '}
          <span className="text-soft">{found?.articulation.name ?? line.articulation}</span>
        </button>
      </th>
      {numbers.map((number) => {
        const output = byNumber.get(number);
        const planned = line.planned.includes(number);
        return (
          <td key={number} className="p-0">
            {output?.arrives_dbfs != null ? (
              <Peak peak={output.arrives_dbfs} only={output.only} planned={planned} />
            ) : (
              <span
                className={`block h-[26px] rounded-[5px] ${planned ? 'border border-dashed border-amber' : 'bg-sunk/60'}`}
                title={planned ? 'Nothing arrives where it should' : undefined}
              >
                <span className="sr-only">{planned ? 'nothing, but it should' : 'nothing'}</span>
              </span>
            )}
          </td>
        );
      })}
      <td
        className={`sticky right-0 z-10 bg-paper pl-2 text-small whitespace-nowrap ${fine ? 'text-leaf' : 'font-semibold text-amber'}`}
      >
        {fine ? (
          <Check size={13} className="mr-1 inline align-[-2px]" aria-hidden="true" />
        ) : (
          <TriangleAlert size={13} className="mr-1 inline align-[-2px]" aria-hidden="true" />
        )}
        {verdictSaid(line)}
      </td>
    </tr>
  );
}

interface PeakProps {
  peak: number;
  /** The only side with sound. */
  only: Line['outputs'][number]['only'];
  planned: boolean;
}

const SIDES = { left: 'L ', right: 'R ', both: '' } as const;

function Peak({ peak, only, planned }: PeakProps) {
  // From just audible to full scale.
  const share = Math.max(0.16, Math.min(1, 1 + peak / 50));
  return (
    <span
      className={`num grid h-[26px] place-items-center rounded-[5px] text-[11.5px] ${
        planned ? 'text-ink' : 'border-[1.5px] border-amber bg-amber-wash text-amber'
      }`}
      style={
        planned ? { background: `color-mix(in oklab, var(--v3) ${Math.round(45 * share)}%, var(--card))` } : undefined
      }
    >
      {only && SIDES[only]}
      {minus(`${Math.round(peak)}`)}
      {!planned && <span className="sr-only"> not planned</span>}
    </span>
  );
}

const said = (db: number | null) => (db === null ? 'nothing' : decibels(db));

/** Whether the line check made a finding. */
export const isOfLines = (finding: Finding) => finding.rule.startsWith('line_');

/** What the check found wrong, with the buttons that fix it. */
export function LinesFound() {
  const { findings } = useFindings();
  const found = findings.filter(isOfLines);
  if (!found.length) return null;
  return (
    <section className="grid grid-cols-[minmax(0,1fr)] gap-2" aria-label="Found by the line check">
      <h2 className="head">Found by the line check</h2>
      <FindingList findings={found} />
    </section>
  );
}

/** What changed since the previous check. */
export function LinesChanged() {
  const pieces = useKit((s) => s.pieces);
  const { data } = useLines();
  if (!data?.checked_before) return null;
  const { changed } = data;
  return (
    <section className="grid grid-cols-[minmax(0,1fr)] gap-1">
      <h2 className="head">Changed since the last check</h2>
      {changed.length === 0 && <p className="text-small text-soft">Nothing.</p>}
      <dl className="grid grid-cols-[minmax(0,1fr)_auto] gap-x-2 gap-y-0.5 text-small">
        {changed.slice(0, 40).map(({ articulation, output, from_dbfs, to_dbfs }) => {
          const found = articulationIn(pieces, articulation);
          return (
            <div key={`${articulation} ${output}`} className="contents">
              <dt className="truncate">
                {found ? `${found.piece.name} ${found.articulation.name}` : articulation}, {output}
              </dt>
              <dd className="num whitespace-nowrap">
                {said(from_dbfs)} → {said(to_dbfs)}
              </dd>
            </div>
          );
        })}
      </dl>
    </section>
  );
}
