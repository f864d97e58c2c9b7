/** Every microphone's recording of a take of the kit. */
import { useQuery } from '@tanstack/react-query';
import { get, type KitState, type RecordingShown, type Take } from '../api/calls';
import { useKit } from './kitStore';

export function useRecordings(stroke: string, take: Take): RecordingShown[] {
  const kitId = (useKit((s) => s.kit) as KitState).id;
  const { data } = useQuery({
    // A take's recordings stay what they are; one may be borrowed to it.
    queryKey: ['recordings', kitId, stroke, take.id, take.recordings],
    queryFn: () => get('/api/kits/{kit_id}/recordings', { kit_id: kitId, articulation: stroke, take: take.id }),
    staleTime: 60_000,
    placeholderData: (last) => last,
  });
  return data ?? [];
}
