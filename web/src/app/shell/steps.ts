/** The seven steps in order, which are done, and which comes next. */
import { create } from 'zustand';

export const STEPS = [
  { id: 'recordings', name: 'Recordings' },
  { id: 'layers', name: 'Layers' },
  { id: 'notes', name: 'Notes' },
  { id: 'touch', name: 'Touch' },
  { id: 'routing', name: 'Routing' },
  { id: 'rehearsal', name: 'Rehearsal' },
  { id: 'delivery', name: 'Delivery' },
] as const;

export type StepId = (typeof STEPS)[number]['id'];

interface Said {
  where: { step: string };
  level: string;
  ignored: boolean;
}

/** Whether a finding is open: ignored and purely informative ones are not. */
export const standsOpen = (finding: Said) => !finding.ignored && finding.level !== 'information';

/**
 * The steps that somebody has looked at, that have results and no open finding. Rehearsal and Delivery leave nothing in
 * the kit: `made` says the others.
 */
export function doneSteps(
  made: readonly string[],
  lookedAt: readonly string[],
  findings: readonly Said[],
  delivered: boolean,
): Set<StepId> {
  const open = new Set(findings.filter(standsOpen).map((finding) => finding.where.step));
  const done = (id: StepId) => {
    if (open.has(id)) return false;
    if (id === 'delivery') return delivered;
    return lookedAt.includes(id) && (id === 'rehearsal' || made.includes(id));
  };
  return new Set(STEPS.map((step) => step.id).filter(done));
}

/** The next step, even if it is done by default (Touch, Routing): it is worth looking at. */
export const nextStep = (after: StepId) => STEPS[STEPS.findIndex((step) => step.id === after) + 1] ?? null;

const KEPT = 'steps-looked-at';
const MOST_KITS = 500;

const kept = (): Record<string, StepId[]> => {
  try {
    const found: unknown = JSON.parse(localStorage.getItem(KEPT) ?? '{}');
    return found && typeof found === 'object' && !Array.isArray(found) ? (found as Record<string, StepId[]>) : {};
  } catch {
    return {};
  }
};

/** The steps somebody looked at (in Rehearsal: played a groove) by kit, in this browser; kits do not store it. */
export const useLookedAtSteps = create<{ kits: Record<string, StepId[]>; look: (kit: string, step: StepId) => void }>(
  (set, read) => ({
    kits: kept(),
    look: (kit, step) => {
      const { [kit]: before = [], ...others } = read().kits;
      if (before.includes(step)) return;
      const entries = [...Object.entries(others), [kit, [...before, step]] as const].slice(-MOST_KITS);
      const kits = Object.fromEntries(entries);
      set({ kits });
      try {
        localStorage.setItem(KEPT, JSON.stringify(kits));
      } catch {
        // If the browser stores nothing, it lasts until the page is left.
      }
    },
  }),
);
