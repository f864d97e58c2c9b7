/** The simulated electronic kits: what their pads and pedals send, quirks included, and playing by themselves. */
import { create } from 'zustand';
import { type ElectronicKit, get, type Pad, type Plays, type Message as Sent } from '../../api/calls';
import { useKit } from '../kit/kitStore';
import { receive } from './door';
import { useInputs } from './inputs';
import { padSends } from './padSends';

const whole = (low: number, high: number) => low + Math.floor(Math.random() * (high - low + 1));

function send(kit: ElectronicKit, kind: 'note' | 'controller' | 'pressure', number: number, value: number, late = 0) {
  const go = () => receive({ input: kit.id, kind, number, value, at: performance.now() });
  if (late) setTimeout(go, late);
  else go();
}

/** Strike a pad with a force of 1 to 127; cross-talk included. */
export function strikePad(kit: ElectronicKit, pad: Pad, force: number, edge = false) {
  const { openness } = useInputs.getState();
  for (const { number, velocity, late_ms } of padSends(kit, pad, { force: (force - 1) / 126, edge, openness })) {
    send(kit, 'note', number, velocity, late_ms);
  }
}

/** Move the hi-hat pedal, 0 closed to 127 open. */
export function movePedal(kit: ElectronicKit, openness: number) {
  const was = useInputs.getState().openness;
  if (openness === was) return;
  useInputs.setState({ openness });
  if (kit.openness_controller !== null) send(kit, 'controller', kit.openness_controller, openness);
  else if (kit.chatter && Math.random() < kit.chatter.chance) {
    send(kit, 'note', kit.pedal_note, whole(kit.chatter.low, kit.chatter.high));
  }
  if (openness === 0) send(kit, 'note', kit.pedal_note, whole(70, 88));
}

/** A hand holds a pad, or releases it. */
export function holdPad(kit: ElectronicKit, pad: Pad, held: boolean) {
  if (pad.stoppable) send(kit, 'pressure', pad.note, held ? 127 : 0);
}

interface Performing {
  /** The kit that plays by itself, and what it plays. */
  kit: string | null;
  what: string;
}

export const usePerforming = create<Performing>(() => ({ kit: null, what: '' }));

const AHEAD_MS = 90;
let timer: ReturnType<typeof setInterval> | null = null;

export function stopPerforming() {
  if (timer !== null) clearInterval(timer);
  timer = null;
  usePerforming.setState({ kit: null, what: '' });
}

/** Let a kit play by itself on the audio clock; resolves when its last message has sounded. */
export async function perform(kit: ElectronicKit, asked: Plays, what: string): Promise<void> {
  stopPerforming();
  usePerforming.setState({ kit: kit.id, what });
  let messages: Sent[];
  try {
    messages = await get('/api/electronic-kits/{kit_id}/plays', { kit_id: kit.id, ...asked });
  } catch (error) {
    stopPerforming();
    useKit.getState().say((error as Error).message);
    return;
  }
  const player = useKit.getState().player;
  if (!player) return stopPerforming();
  player.wake();
  const begin = performance.now() + 120;
  const clock = player.context.currentTime + 0.12;
  let next = 0;
  await new Promise<void>((resolve) => {
    const tick = () => {
      const now = performance.now();
      for (let sent = messages[next]; sent && begin + sent.time_ms < now + AHEAD_MS; sent = messages[next]) {
        next += 1;
        const at = begin + sent.time_ms;
        const when = Math.max(clock + sent.time_ms / 1000, player.context.currentTime + 0.002);
        receive({ input: kit.id, kind: sent.kind, number: sent.number, value: sent.value, at }, when);
      }
      const last = messages[messages.length - 1];
      if (timer === mine && (!last || now > begin + last.time_ms + 60)) stopPerforming();
      if (timer !== mine) {
        clearInterval(mine);
        resolve();
      }
    };
    const mine = setInterval(tick, 25);
    timer = mine;
  });
}
