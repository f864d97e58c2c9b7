/** Which take is looked at closely, from wherever it was asked for. */
import { create } from 'zustand';

interface Closely {
  stroke: string | null;
  take: string | null;
}

export const useClosely = create<Closely>(() => ({ stroke: null, take: null }));

export const openClosely = (stroke: string, take: string) => useClosely.setState({ stroke, take });
export const closeClosely = () => useClosely.setState({ stroke: null, take: null });
