/** The findings of the current kit. */
import { useQuery } from '@tanstack/react-query';
import { get } from '../../api/calls';
import { useKit } from './kitStore';

export function useFindings() {
  const id = useKit((s) => s.kit?.id);
  return useQuery({
    queryKey: ['findings', id],
    queryFn: () => get('/api/kits/{kit_id}/findings', { kit_id: id as string }),
    enabled: id !== undefined,
    placeholderData: (before) => before,
  });
}
