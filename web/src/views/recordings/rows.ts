/** The recordings of a session as rows: loaded once, sorted and searched here. */
import { useQuery } from '@tanstack/react-query';
import { type Finding, get } from '../../api/calls';

export type Measure = 'path' | 'level_db' | 'peak_dbfs' | 'start_ms' | 'length_ms' | 'centroid_hz';

export const HEADS: { key: Measure | null; name: string; right?: boolean; title?: string }[] = [
  { key: 'path', name: 'Recording' },
  { key: null, name: 'Take' },
  { key: null, name: 'Waveform' },
  { key: 'level_db', name: 'Level', right: true, title: 'K-weighted, over the first 300 ms' },
  { key: 'start_ms', name: 'Starts', right: true },
  { key: 'length_ms', name: 'Length', right: true },
  { key: 'peak_dbfs', name: 'Peak', right: true },
  { key: 'centroid_hz', name: 'Brightness', right: true, title: 'Spectral centroid' },
];

export function useRows(sessionId: number) {
  return useQuery({
    queryKey: ['reading', sessionId, 'rows'],
    queryFn: () => get('/api/sessions/{session_id}/rows', { session_id: sessionId }),
    staleTime: Number.POSITIVE_INFINITY,
  });
}

export function noticedByTake(findings: Finding[]): Map<string, Finding> {
  const found = new Map<string, Finding>();
  for (const finding of findings) {
    const { articulation, take } = finding.where;
    if (articulation && take && !found.has(`${articulation} ${take}`)) found.set(`${articulation} ${take}`, finding);
  }
  return found;
}

export interface Act {
  choose: (place: number, keys: { range: boolean; join: boolean }) => void;
  showWaveforms: (place: number) => void;
  hear: (row: number) => void;
}
