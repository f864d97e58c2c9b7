/**
 * Views in files of their own: the open one is fetched first, the others when idle, so that they open at once even if
 * the studio has gone. React's `lazy` is not used: it renders at low priority and starts again on every update, and the
 * loading counter updates eight times a second; on a slow machine no view appeared before loading ended.
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

  /** Calls back when a view has arrived; returns a function that unsubscribes. */
  follow = (listener: () => void) => {
    this.listeners.add(listener);
    return () => {
      this.listeners.delete(listener);
    };
  };

  /** Throws if it could not be fetched. */
  async fetch(id: Id) {
    const { default: view } = await this.files[id]();
    this.fetched.set(id, view);
    for (const listener of this.listeners) listener();
  }

  /** Fetch a view before it is shown; errors are reported then. */
  async expect(id: Id) {
    await this.fetch(id).catch(() => undefined);
  }

  /** Fetch all views, one after another. */
  async expectAll() {
    for (const id of Object.keys(this.files) as Id[]) await this.expect(id);
  }
}

/**
 * Renders one view; throws if it could not be fetched. It subscribes instead of only awaiting, because the view may
 * arrive between two renders.
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
