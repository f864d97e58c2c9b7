/** Which steps are done, and a link to the next one. */
import { ArrowRight } from 'lucide-react';
import { Link, useParams } from 'react-router';
import { useKit } from '../kit/kitStore';
import { useFindings } from '../kit/noticed';
import { isDelivered, useJobs } from './Jobs';
import { doneSteps, nextStep, STEPS, type StepId, useLookedAtSteps } from './steps';

const NOTHING: string[] = [];

/** Nothing is done before the findings are known. */
export function useDoneSteps(): Set<StepId> {
  const { findings, unknown } = useFindings();
  const made = useKit((s) => s.kit?.head.made ?? NOTHING);
  const id = useKit((s) => s.kit?.id ?? '');
  const lookedAt = useLookedAtSteps((s) => s.kits[id] ?? NOTHING);
  const delivered = useJobs().data?.some(isDelivered) ?? false;
  return unknown ? new Set() : doneSteps(made, lookedAt, findings, delivered);
}

export function NextStep({ step }: { step: StepId }) {
  const { kitId } = useParams();
  const { checking } = useFindings();
  const done = useDoneSteps();
  const next = nextStep(step);
  if (!done.has(step) || !next) return null;
  const here = STEPS.find((each) => each.id === step)?.name;
  return (
    <p className="flex flex-wrap items-center gap-x-1.5 rounded-[10px] bg-leaf-wash px-3 py-2 text-small" role="status">
      <span>
        {here}: {checking ? 'checking…' : 'done.'}
      </span>
      <Link className="link inline-flex min-h-6 items-center gap-1 font-semibold" to={`/kits/${kitId}/${next.id}`}>
        Next: {next.name} <ArrowRight size={13} aria-hidden="true" />
      </Link>
    </p>
  );
}
