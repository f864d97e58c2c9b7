/** Devices over Web MIDI: found, chosen, plugged in and out, and a sentence if access is refused. */
import { create } from 'zustand';
import { receive, show } from './door';
import { useInputs } from './inputs';

export interface Device {
  id: string;
  name: string;
  connected: boolean;
  on: boolean;
  /** 1 to 16, or 0 for all. */
  channel: number;
}

type State = 'off' | 'asking' | 'on' | 'refused' | 'missing';

interface Midi {
  state: State;
  devices: Device[];
  connect: () => Promise<void>;
  toggle: (id: string) => void;
  setChannel: (id: string, channel: number) => void;
}

export const MIDI_SAYS: Record<State, string> = {
  off: 'The browser asks once for permission to use your MIDI devices.',
  asking: 'Waiting for the browser’s permission…',
  on: 'Plug a device in at any time; it appears here.',
  refused:
    'MIDI is blocked for this page. Allow MIDI in the site settings beside the address, then try again. Pads, keys and grooves still play.',
  missing:
    'This browser has no Web MIDI. Pads, keys and grooves still play; use a Chromium-based browser for MIDI devices.',
};

const KEPT = 'zesty-midi';
const ports = new Map<string, string>();
/** The last note of each device: channel pressure is a hand on that pad. */
const lastNote = new Map<string, number>();

/** Each device's settings by name, restored when it is plugged in again. */
type Remembered = Record<string, { on: boolean; channel: number }>;

function remembered(): Remembered {
  try {
    return JSON.parse(localStorage.getItem(KEPT) ?? '{}');
  } catch {
    return {};
  }
}

function change(id: string, to: Partial<Device>) {
  const devices = useMidi.getState().devices.map((d) => (d.id === id ? { ...d, ...to } : d));
  useMidi.setState({ devices });
  const chosen = devices.map((d) => [d.id, { on: d.on, channel: d.channel }] as const);
  try {
    localStorage.setItem(KEPT, JSON.stringify({ ...remembered(), ...Object.fromEntries(chosen) }));
  } catch {
    // The settings still work in a browser that stores nothing.
  }
}

export const useMidi = create<Midi>((set, read) => ({
  state: 'off',
  devices: [],
  connect: async () => {
    if (read().state === 'on' || read().state === 'asking') return;
    if (!navigator.requestMIDIAccess) return set({ state: 'missing' });
    set({ state: 'asking' });
    try {
      const access = await navigator.requestMIDIAccess();
      access.onstatechange = () => follow(access);
      follow(access);
      set({ state: 'on' });
    } catch {
      set({ state: 'refused' });
    }
  },
  toggle: (id) => change(id, { on: !read().devices.find((d) => d.id === id)?.on }),
  setChannel: (id, channel) => change(id, { channel }),
}));

/** Devices with the same name get a number; a device keeps its name when it is plugged in again. */
function idOf(port: MIDIInput): string {
  const known = ports.get(port.id);
  if (known) return known;
  const name = `midi:${(port.name ?? 'Device').slice(0, 90)}`;
  let id = name;
  for (let number = 2; [...ports.values()].includes(id); number += 1) id = `${name} ${number}`;
  ports.set(port.id, id);
  return id;
}

function follow(access: MIDIAccess) {
  const known = new Map(useMidi.getState().devices.map((d) => [d.id, { ...d, connected: false }]));
  const kept = remembered();
  for (const port of access.inputs.values()) {
    const id = idOf(port);
    const connected = port.state !== 'disconnected';
    const chosen = known.get(id) ?? { on: true, channel: 0, ...kept[id] };
    known.set(id, { id, name: id.replace(/^midi:/, ''), connected, on: chosen.on, channel: chosen.channel });
    port.onmidimessage = (event) => hear(id, event);
  }
  useMidi.setState({ devices: [...known.values()] });
}

function hear(id: string, event: MIDIMessageEvent) {
  const device = useMidi.getState().devices.find((d) => d.id === id);
  const [status = 0, number = 0, value = 0] = event.data ?? [];
  // From 0xf0 on are clocks and other system messages, which belong to no channel and come constantly.
  if (!device?.on || status >= 0xf0 || (device.channel && (status & 15) + 1 !== device.channel)) return;
  const at = event.timeStamp || performance.now();
  const kind = status & 0xf0;
  if (kind === 0x90 && value > 0) {
    lastNote.set(id, number);
    if (useInputs.getState().chosen !== id) useInputs.getState().choose(id);
    receive({ input: id, kind: 'note', number, value, at });
  } else if (kind === 0xb0) {
    receive({ input: id, kind: 'controller', number, value, at });
  } else if (kind === 0xa0) {
    receive({ input: id, kind: 'pressure', number, value, at });
  } else if (kind === 0xd0) {
    const struck = lastNote.get(id);
    if (struck === undefined) show({ input: id, kind: 'channel pressure', number: 0, value: number, at });
    else receive({ input: id, kind: 'pressure', number: struck, value: number, at });
  } else if (kind === 0x80 || kind === 0x90) {
    show({ input: id, kind: 'note off', number, value, at });
  } else if (kind === 0xe0) {
    show({ input: id, kind: 'pitch bend', number: 0, value: value * 128 + number - 8192, at });
  } else if (kind === 0xc0) {
    show({ input: id, kind: 'program', number, value: 0, at });
  }
}

/** Connect without asking if devices were allowed before. */
export async function connectIfAllowed() {
  try {
    const allowed = await navigator.permissions.query({ name: 'midi' as PermissionName });
    if (allowed.state === 'granted') await useMidi.getState().connect();
  } catch {
    // A browser that cannot tell asks when the user wants a device.
  }
}
