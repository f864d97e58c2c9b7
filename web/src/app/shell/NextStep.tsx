/** Which steps are done, and a link to the next one. */
import { ArrowRight } from 'lucide-react';
import { Link, useParams } from 'react-router';
import { useKit } from '../kit/kitStore';
import { useFindings } from '../kit/noticed';
import { isDelivered, useJobs } from './Jobs';
import { doneSteps, nextStep, STEPS, type StepId, useRehearsed } from './steps';

const NOTHING: string[] = [];

export function useDoneSteps(): Set<StepId> {
  const { data = [] } = useFindings();
  const made = useKit((s) => s.kit?.head.made ?? NOTHING);
  const id = useKit((s) => s.kit?.id ?? '');
  const rehearsed = useRehearsed((s) => s.kits.includes(id));
  const delivered = useJobs().data?.some(isDelivered) ?? false;
  return doneSteps(made, data, { rehearsal: rehearsed, delivery: delivered });
}

export function NextStep({ step }: { step: StepId }) {
  const { kitId } = useParams();
  const done = useDoneSteps();
  const next = nextStep(step);
  if (!done.has(step) || !next) return null;
  const here = STEPS.find((each) => each.id === step)?.name;
  return (
    <p className="flex flex-wrap items-center gap-x-1.5 rounded-[10px] bg-leaf-wash px-3 py-2 text-small" role="status">
      <span>{here}: done.</span>
      <Link className="link inline-flex min-h-6 items-center gap-1 font-semibold" to={`/kits/${kitId}/${next.id}`}>
        Next: {next.name} <ArrowRight size={13} aria-hidden="true" />
      </Link>
    </p>
  );
}
