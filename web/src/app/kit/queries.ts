/** Caching of requests to the studio. */
import { QueryClient } from '@tanstack/react-query';

export const queries = new QueryClient({
  defaultOptions: { queries: { retry: 1, staleTime: 5_000 }, mutations: { networkMode: 'always' } },
});
