/** Which take's waveforms are open. */
import { create } from 'zustand';

interface Waveforms {
  articulation: string | null;
  take: string | null;
}

export const useWaveforms = create<Waveforms>(() => ({ articulation: null, take: null }));

export const openWaveforms = (articulation: string, take: string) => useWaveforms.setState({ articulation, take });
export const closeWaveforms = () => useWaveforms.setState({ articulation: null, take: null });
