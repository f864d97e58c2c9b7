/**
 * Views in files of their own: the one that is opened is fetched first, the others while nothing else is to do, so that they
 * open at once and though the studio has gone.
 *
 * Not by React's `lazy`: what that has waited for is drawn when nothing else is to be drawn, and anew with whatever comes
 * meanwhile. The count of sounds that load changes eight times a second, and on a slow machine no view came before the last.
 */
import { type ComponentType, useEffect, useState, useSyncExternalStore } from 'react';

type Files<Id extends string> = Record<Id, () => Promise<{ default: ComponentType }>>;

export class Views<Id extends string> {
  private fetched = new Map<Id, ComponentType>();
  private listeners = new Set<() => void>();

  constructor(private files: Files<Id>) {}

  get(id: Id) {
    return this.fetched.get(id);
  }

  /** Tells that one came; returns what ends it. */
  follow = (listener: () => void) => {
    this.listeners.add(listener);
    return () => {
      this.listeners.delete(listener);
    };
  };

  /** Throws where it could not be had. */
  async fetch(id: Id) {
    const { default: view } = await this.files[id]();
    this.fetched.set(id, view);
    for (const listener of this.listeners) listener();
  }

  /** Fetch one before it is looked at: what cannot be had is said then. */
  async expect(id: Id) {
    await this.fetch(id).catch(() => undefined);
  }

  /** Fetch all, one after another. */
  async expectAll() {
    for (const id of Object.keys(this.files) as Id[]) await this.expect(id);
  }
}

/**
 * One of them; throws what came of fetching it where it could not be had. It may come between being missed and being asked
 * for, because its place is drawn bit by bit: so it is followed, and not only waited for.
 */
export function View<Id extends string>({ from, of }: { from: Views<Id>; of: Id }) {
  const Fetched = useSyncExternalStore(from.follow, () => from.get(of));
  const [error, setError] = useState<Error>();
  useEffect(() => {
    if (from.get(of)) return;
    let here = true;
    from.fetch(of).catch((said: Error) => here && setError(said));
    return () => {
      here = false;
    };
  }, [from, of]);
  if (error) throw error;
  return Fetched ? <Fetched /> : <main />;
}
