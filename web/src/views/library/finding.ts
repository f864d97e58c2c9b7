/** The library's search, stored in the URL: a reload, a link and the back button restore it. */
import { useQueries, useQuery } from '@tanstack/react-query';
import { useCallback } from 'react';
import { useParams, useSearchParams } from 'react-router';
import { type Entry, get, type Sort } from '../../api/calls';

/** The number of items per request. */
export const STRETCH = 60;
export const AWAY = 'away';
export const LOOKS_AGAIN_MS = 4000;

export interface LibrarySearch {
  kind: string;
  asked: string;
  tags: string[];
  sort: Sort;
}

export function useAsked(): LibrarySearch & { ask: (change: Partial<Omit<LibrarySearch, 'kind'>>) => void } {
  const { kind = 'kits' } = useParams();
  const [search, setSearch] = useSearchParams();
  const ask = useCallback(
    (change: Partial<Omit<LibrarySearch, 'kind'>>) =>
      setSearch(
        (before) => {
          const next = new URLSearchParams(before);
          if (change.asked !== undefined) change.asked ? next.set('find', change.asked) : next.delete('find');
          if (change.sort !== undefined)
            change.sort === 'changed' ? next.delete('sort') : next.set('sort', change.sort);
          if (change.tags !== undefined) {
            next.delete('tag');
            for (const tag of change.tags) next.append('tag', tag);
          }
          return next;
        },
        { replace: true },
      ),
    [setSearch],
  );
  return {
    kind,
    asked: search.get('find') ?? '',
    tags: search.getAll('tag'),
    sort: search.get('sort') === 'name' ? 'name' : 'changed',
    ask,
  };
}

const stretchOf = ({ kind, asked, tags, sort }: LibrarySearch, number: number) => ({
  queryKey: ['library', kind, asked, tags.join(), sort, number],
  queryFn: () => get('/api/library/{kind}', { kind, asked, tags, sort, start: number * STRETCH, count: STRETCH }),
  placeholderData: <T>(before: T) => before,
  // Another tab, or an open kit, may change what is listed.
  refetchInterval: LOOKS_AGAIN_MS,
});

/** Search results: their number, their tags, and the loaded items in a range. */
export function useFound(asked: LibrarySearch, from: number, to: number) {
  const first = useQuery(stretchOf(asked, 0));
  const numbers = Array.from(
    { length: Math.max(0, Math.floor(to / STRETCH) - Math.floor(from / STRETCH) + 1) },
    (_, k) => Math.floor(from / STRETCH) + k,
  );
  const stretches = useQueries({ queries: numbers.map((number) => stretchOf(asked, number)) });
  const entryAt = (place: number): Entry | undefined => {
    const number = Math.floor(place / STRETCH);
    const stretch = number === 0 ? first.data : stretches[numbers.indexOf(number)]?.data;
    return stretch?.entries[place % STRETCH];
  };
  return {
    total: first.data?.total ?? 0,
    tags: first.data?.tags ?? [],
    known: first.data !== undefined,
    entryAt,
    error: first.error,
  };
}

export const useCounts = () =>
  useQuery({ queryKey: ['library'], queryFn: () => get('/api/library', {}), refetchInterval: LOOKS_AGAIN_MS });

/** The title of each kind, if it differs from its name, and its purpose. */
const KINDS: Record<string, { title?: string; says: string }> = {
  kits: { says: 'Drum kits: pieces with their layers, notes, touch and routing.' },
  pieces: { says: 'Single pieces saved from kits, ready to be added to any other kit.' },
  treatments: { says: 'Settings of EQ, compressor and drive, to put on any channel.' },
  spaces: { title: 'Reverbs', says: 'Reverbs, echoes and impulse responses, to use on any bus.' },
  grooves: { says: 'MIDI performances to rehearse a kit with.' },
  maps: { says: 'Note maps: which articulation is on which note, for each electronic kit.' },
  curves: { says: 'Velocity curves, to use for any input, piece or articulation.' },
  plans: { title: 'Plans', says: 'Rules that route any kit to the outputs of a host.' },
  hosts: { says: 'The outputs a host or recorder has; simulated here.' },
  readings: {
    title: 'Readings',
    says: 'How the file names of a session are read, for sessions named the same way.',
  },
  sessions: { title: 'Sessions', says: 'The recordings that kits are made from; they are never changed.' },
  [AWAY]: { title: 'Bin', says: 'Deleted things. Restore them, or delete them for good.' },
};

export const titleOf = (kind: string) => KINDS[kind]?.title ?? `${kind[0]?.toUpperCase()}${kind.slice(1)}`;
export const saysOf = (kind: string) => KINDS[kind]?.says ?? '';
