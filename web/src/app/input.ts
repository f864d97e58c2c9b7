/** The stand-in electronic kit as an input: its pads, its pedal, and how hard the computer keys strike. */
import { create } from 'zustand';
import type { ElectronicKit } from '../api/calls';
import { useKit } from './kitStore';

export const DECKHAND = 'deckhand-5';

interface Input {
  pads: ElectronicKit | null;
  keyVelocity: number;
  openness: number;
  setPads: (pads: ElectronicKit) => void;
  setKeyVelocity: (velocity: number) => void;
  setPedal: (openness: number) => void;
}

export const useInput = create<Input>((set, read) => ({
  pads: null,
  keyVelocity: 96,
  openness: 127,
  setPads: (pads) => set({ pads }),
  setKeyVelocity: (keyVelocity) => set({ keyVelocity }),
  setPedal: (openness) => {
    const { pads, openness: was } = read();
    const player = useKit.getState().player;
    set({ openness });
    player?.pedal(DECKHAND, openness);
    // Closing the pedal sounds its own stroke, which silences open hats.
    if (openness === 0 && was > 0 && pads) player?.strike(DECKHAND, pads.pedal_note, 88);
  },
}));
