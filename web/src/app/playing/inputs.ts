/** Sources of strikes: simulated kits and devices, and which of them is selected. */
import { create } from 'zustand';
import type { ElectronicKit } from '../../api/calls';
import { type Message, onAnything, type Unplayed } from './door';

const REMEMBERED = 'zesty-input';

interface Inputs {
  kits: ElectronicKit[];
  /** The simulated kit in the pads panel; the computer keys strike it. */
  simulatedKit: ElectronicKit | null;
  /** The selected input, shown and set up: a simulated kit or a device. */
  chosen: string;
  /** The inputs panel stays open until it is closed, because it is played while other things are set up. */
  open: boolean;
  keyVelocity: number;
  openness: number;
  /** Where the pedals of the other simulated kits were left. */
  pedals: Record<string, number>;
  /** The last message from anywhere; `count` grows with every message that plays. */
  last: Message | Unplayed | null;
  /** The notes each device has sent since the page was opened. */
  sent: Record<string, number[]>;
  /** The last note was released. */
  released: boolean;
  count: number;
  setKits: (kits: ElectronicKit[]) => void;
  choose: (id: string) => void;
  setKeyVelocity: (velocity: number) => void;
}

const remembered = () => {
  try {
    return localStorage.getItem(REMEMBERED) ?? '';
  } catch {
    return '';
  }
};

export const useInputs = create<Inputs>((set, read) => ({
  kits: [],
  simulatedKit: null,
  chosen: remembered() || 'deckhand-5',
  open: false,
  keyVelocity: 96,
  openness: 127,
  pedals: {},
  last: null,
  sent: {},
  released: false,
  count: 0,
  setKits: (kits) => {
    const simulatedKit = kits.find((kit) => kit.id === read().chosen) ?? kits[0] ?? null;
    set({ kits, simulatedKit });
  },
  choose: (chosen) => {
    try {
      localStorage.setItem(REMEMBERED, chosen);
    } catch {
      // The choice still works in a browser that stores nothing.
    }
    const { kits, simulatedKit: left, openness, pedals } = read();
    const simulatedKit = kits.find((kit) => kit.id === chosen);
    if (!simulatedKit) return set({ chosen });
    const kept = left ? { ...pedals, [left.id]: openness } : pedals;
    set({ chosen, simulatedKit, pedals: kept, openness: kept[chosen] ?? 127 });
  },
  setKeyVelocity: (keyVelocity) => set({ keyVelocity }),
}));

const isDevice = (id: string) => id.startsWith('midi:');

onAnything((message, plays) =>
  useInputs.setState(({ last, count, sent }) => {
    const known = sent[message.input] ?? [];
    if (message.kind === 'note' && isDevice(message.input) && !known.includes(message.number))
      sent = { ...sent, [message.input]: [...known, message.number].sort((a, b) => a - b) };
    if (plays) return { last: message, released: false, count: count + 1, sent };
    // A strike stays readable when its own note-off follows, which happens at once.
    const own = message.kind === 'note off' && last?.kind === 'note' && last.number === message.number;
    return own && last.input === message.input ? { released: true } : { last: message, released: false };
  }),
);

/** The name of an input. */
export function inputName(id: string, kits: ElectronicKit[], devices: { id: string; name: string }[]): string {
  const fixed: Record<string, string> = {
    groove: 'Groove',
    pointer: 'Pointer',
    skin: 'Pointer',
    take: 'One take',
    strike: 'Pointer',
  };
  return (
    kits.find((kit) => kit.id === id)?.name ??
    devices.find((device) => device.id === id)?.name ??
    fixed[id] ??
    id.replace(/^midi:/, '')
  );
}
