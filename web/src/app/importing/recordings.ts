/** The recordings of a take, one per microphone. */
import { useQuery } from '@tanstack/react-query';
import { get, type KitState, type RecordingShown, type Take } from '../../api/calls';
import { useKit } from '../kit/kitStore';

export function useRecordings(articulation: string, take: Take): RecordingShown[] {
  const { id: kitId, version } = useKit((s) => s.kit) as KitState;
  const { data } = useQuery({
    // The sounds do not change; how they are used (flipped, moved, borrowed) changes by edits.
    queryKey: ['recordings', kitId, articulation, take.id, version],
    queryFn: () => get('/api/kits/{kit_id}/recordings', { kit_id: kitId, articulation: articulation, take: take.id }),
    staleTime: 60_000,
    placeholderData: (last) => last,
  });
  return data ?? [];
}
