/**
 * The steps' views, each in a file of its own: the one that is opened is fetched first, the others while nothing else is to
 * do, so that they open at once and though the studio has gone.
 *
 * Not by React's `lazy`: what that has waited for is drawn when nothing else is to be drawn, and anew with whatever comes
 * meanwhile. The count of sounds that load changes eight times a second, and on a slow machine no view came before the last.
 */
import { type ComponentType, useEffect, useState } from 'react';
import type { StepId } from './steps';

const FILES: Record<StepId, () => Promise<{ default: ComponentType }>> = {
  recordings: () => import('../views/recordings/Recordings'),
  layers: () => import('../views/layers/Layers'),
  notes: () => import('../views/notes/Notes'),
  touch: () => import('../views/touch/Touch'),
  routing: () => import('../views/routing/Routing'),
  rehearsal: () => import('../views/rehearsal/Rehearsal'),
  delivery: () => import('../views/delivery/Delivery'),
};

const fetched = new Map<StepId, ComponentType>();

async function fetchView(step: StepId) {
  fetched.set(step, (await FILES[step]()).default);
}

/** Fetch a step's view before it is looked at. What cannot be fetched is said when it is. */
export const expectView = (step: StepId) => fetchView(step).catch(() => undefined);

/** Fetch all, one after another. */
export async function expectViews() {
  for (const step of Object.keys(FILES) as StepId[]) await expectView(step);
}

/** A step's view; throws what came of fetching it where it could not be. */
export function View({ of }: { of: StepId }) {
  const [came, setCame] = useState<{ error?: Error }>({});
  useEffect(() => {
    if (fetched.has(of)) return;
    let here = true;
    const say = (error?: Error) => here && setCame({ error });
    fetchView(of).then(() => say(), say);
    return () => {
      here = false;
    };
  }, [of]);
  if (came.error) throw came.error;
  const Fetched = fetched.get(of);
  return Fetched ? <Fetched /> : <main />;
}
