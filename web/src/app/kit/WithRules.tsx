/** The page's first request; until the studio responds, that is shown and the request repeated. */
import { useQuery } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { get } from '../../api/calls';
import { takeRules } from './rules';

const AGAIN_MS = 1500;

export function WithRules({ children }: { children: ReactNode }) {
  const { data, failureReason } = useQuery({
    queryKey: ['rules'],
    queryFn: async () => {
      const rules = await get('/api/rules', {});
      takeRules(rules);
      return rules;
    },
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: Number.POSITIVE_INFINITY,
    retry: true,
    retryDelay: AGAIN_MS,
  });
  if (data) return children;
  if (!failureReason) return null;
  return (
    <p role="alert" className="p-10 text-center text-soft">
      {failureReason.message} Trying again automatically.
    </p>
  );
}
