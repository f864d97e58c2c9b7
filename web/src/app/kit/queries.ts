/** What was asked of the studio and is remembered for a while. */
import { QueryClient } from '@tanstack/react-query';

export const queries = new QueryClient({
  defaultOptions: { queries: { retry: 1, staleTime: 5_000 }, mutations: { networkMode: 'always' } },
});
