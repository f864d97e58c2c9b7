/**
 * Views in files of their own: the one that is opened is fetched first, the others while nothing else is to do, so that they
 * open at once and though the studio has gone.
 *
 * Not by React's `lazy`: what that has waited for is drawn when nothing else is to be drawn, and anew with whatever comes
 * meanwhile. The count of sounds that load changes eight times a second, and on a slow machine no view came before the last.
 */
import { type ComponentType, useEffect, useState } from 'react';

type Files<Id extends string> = Record<Id, () => Promise<{ default: ComponentType }>>;

export class Views<Id extends string> {
  private fetched = new Map<Id, ComponentType>();

  constructor(private files: Files<Id>) {}

  get(id: Id) {
    return this.fetched.get(id);
  }

  /** Throws where it could not be had. */
  async fetch(id: Id) {
    const { default: view } = await this.files[id]();
    this.fetched.set(id, view);
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

/** One of them; throws what came of fetching it where it could not be had. */
export function View<Id extends string>({ from, of }: { from: Views<Id>; of: Id }) {
  const [came, setCame] = useState<{ error?: Error }>({});
  useEffect(() => {
    if (from.get(of)) return;
    let here = true;
    const say = (error?: Error) => here && setCame({ error });
    from.fetch(of).then(() => say(), say);
    return () => {
      here = false;
    };
  }, [from, of]);
  if (came.error) throw came.error;
  const Fetched = from.get(of);
  return Fetched ? <Fetched /> : <main />;
}
