/**
 * The messages of a simulated kit for a strike on a pad, quirks included. The twin of `Performer.strike` in
 * drumcore/simulated/performance.
 */
import type { ElectronicKit, Pad } from '../../api/calls';

export interface PadSends {
  number: number;
  velocity: number;
  late_ms: number;
}

export interface Blow {
  /** From 0, the lightest touch, to 1, the heaviest blow. */
  force: number;
  edge: boolean;
  openness: number;
}

export function padSends(kit: ElectronicKit, pad: Pad, blow: Blow, random = Math.random): PadSends[] {
  const within = (low: number, high: number) => low + (high - low) * random();
  const whole = (low: number, high: number) => low + Math.floor(random() * (high - low + 1));
  let number = blow.edge && pad.edge_note !== null ? pad.edge_note : pad.note;
  if (kit.hat_notes.length && pad.name === kit.hat_pad) {
    number = kit.hat_notes.filter((hat) => hat.open_from <= blow.openness).pop()?.note ?? number;
  }
  const velocity = Math.round(kit.softest + (kit.hardest - kit.softest) * Math.max(0, Math.min(1, blow.force)));
  const sent: PadSends[] = [{ number, velocity, late_ms: 0 }];
  for (const talk of kit.cross_talk) {
    if (talk.pad !== pad.name || velocity < talk.from_velocity || random() >= talk.chance) continue;
    const shaken = kit.pads.find((other) => other.name === talk.into) as Pad;
    const late_ms = within(talk.soonest_ms, talk.latest_ms);
    sent.push({ number: shaken.note, velocity: whole(talk.low, talk.high), late_ms });
  }
  for (const double of kit.doubles) {
    if (double.pad !== pad.name || random() >= double.chance) continue;
    const late_ms = within(double.soonest_ms, double.latest_ms);
    sent.push({ number, velocity: Math.max(1, Math.round(velocity * within(0.3, 0.7))), late_ms });
  }
  return sent;
}
