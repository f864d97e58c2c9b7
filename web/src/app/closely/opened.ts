/** Which take is opened as waveforms, from wherever it was asked for. */
import { create } from 'zustand';

interface Closely {
  articulation: string | null;
  take: string | null;
}

export const useClosely = create<Closely>(() => ({ articulation: null, take: null }));

export const openClosely = (articulation: string, take: string) => useClosely.setState({ articulation, take });
export const closeClosely = () => useClosely.setState({ articulation: null, take: null });
