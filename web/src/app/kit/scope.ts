/** Whose velocity curve the Touch step shows, and the others beside it. */
import { create } from 'zustand';

export type Scope = 'all' | 'input' | 'piece' | 'articulation';

interface Scoped {
  scope: Scope;
  side: 'Strikes' | 'Fit' | 'Pads';
  choose: (scope: Scope) => void;
  show: (side: Scoped['side']) => void;
}

export const useScope = create<Scoped>((set) => ({
  scope: 'all',
  side: 'Strikes',
  choose: (scope) => set({ scope }),
  show: (side) => set({ side }),
}));
