/** The findings of the current kit, and whether they are known. */
import { useQuery } from '@tanstack/react-query';
import { type Finding, get } from '../../api/calls';
import { useInputs } from '../playing/inputs';
import { useKit } from './kitStore';

const NONE: number[] = [];

export interface Noticed {
  findings: Finding[];
  /** The findings are of an earlier version, or not known at all: nothing may be called right. */
  checking: boolean;
  /** They have never been known for this kit. */
  unknown: boolean;
  /** Why they could not be computed; empty if they could. */
  failed: string;
}

/** Findings depend on the input that is connected: notes it sends may play nothing. */
export function useFindings(): Noticed {
  const id = useKit((s) => s.kit?.id);
  const version = useKit((s) => s.kit?.version);
  const input = useInputs((s) => s.chosen);
  const sent = useInputs((s) => s.sent[s.chosen] ?? NONE);
  const { data, error } = useQuery({
    queryKey: ['findings', id, input, sent],
    queryFn: async () => {
      const of = useKit.getState().kit?.version;
      return { of, found: await get('/api/kits/{kit_id}/findings', { kit_id: id as string, input, sent }) };
    },
    enabled: id !== undefined,
    placeholderData: (before, query) => (query?.queryKey[1] === id ? before : undefined),
  });
  return {
    findings: data?.found ?? [],
    checking: !error && (data === undefined || data.of !== version),
    unknown: data === undefined,
    failed: error?.message ?? '',
  };
}
