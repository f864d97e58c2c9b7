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

/** The steps that have results and no open finding; Rehearsal and Delivery leave nothing in the kit. */
export function doneSteps(
  made: readonly string[],
  findings: readonly Said[],
  besides: { rehearsal: boolean; delivery: boolean },
): Set<StepId> {
  const open = new Set(findings.filter(standsOpen).map((finding) => finding.where.step));
  const done = (id: StepId) =>
    (id === 'rehearsal' || id === 'delivery' ? besides[id] : made.includes(id)) && !open.has(id);
  return new Set(STEPS.map((step) => step.id).filter(done));
}

/** The next step, even if it is done by default (Touch, Routing): it is worth looking at. */
export const nextStep = (after: StepId) => STEPS[STEPS.findIndex((step) => step.id === after) + 1] ?? null;

const KEPT = 'rehearsed';

const kept = (): string[] => {
  try {
    const found: unknown = JSON.parse(localStorage.getItem(KEPT) ?? '[]');
    return Array.isArray(found) ? found.filter((id) => typeof id === 'string') : [];
  } catch {
    return [];
  }
};

/** The kits that were rehearsed in this browser; the kits themselves do not store it. */
export const useRehearsed = create<{ kits: string[]; heard: (kit: string) => void }>((set, read) => ({
  kits: kept(),
  heard: (kit) => {
    if (read().kits.includes(kit)) return;
    const kits = [...read().kits, kit].slice(-500);
    set({ kits });
    try {
      localStorage.setItem(KEPT, JSON.stringify(kits));
    } catch {
      // If the browser stores nothing, it lasts until the page is left.
    }
  },
}));
