/** Every microphone's recording of a take of the kit. */
import { useQuery } from '@tanstack/react-query';
import { get, type KitState, type RecordingShown, type Take } from '../../api/calls';
import { useKit } from '../kit/kitStore';

export function useRecordings(articulation: string, take: Take): RecordingShown[] {
  const { id: kitId, version } = useKit((s) => s.kit) as KitState;
  const { data } = useQuery({
    // The sounds stay what they are; how they are used (flipped, moved, borrowed) is an edit like any other.
    queryKey: ['recordings', kitId, articulation, take.id, version],
    queryFn: () => get('/api/kits/{kit_id}/recordings', { kit_id: kitId, articulation: articulation, take: take.id }),
    staleTime: 60_000,
    placeholderData: (last) => last,
  });
  return data ?? [];
}
