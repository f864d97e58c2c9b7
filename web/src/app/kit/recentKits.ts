/** The kits changed last; all others are in the library. */
import { useQuery } from '@tanstack/react-query';
import { type Entry, get } from '../../api/calls';

const MOST_KITS = 24;

export const useRecentKits = (): Entry[] | undefined =>
  useQuery({
    queryKey: ['kits'],
    queryFn: () => get('/api/library/{kind}', { kind: 'kits', count: MOST_KITS }),
  }).data?.entries;
