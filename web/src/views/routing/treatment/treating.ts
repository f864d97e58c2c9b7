/** One kind of treatment of a channel: its settings, turned while listening, saved on release. */
import type { Channel } from '../../../api/calls';
import { channelNow, keepTurned, turn } from '../../../app/kit/desk';
import { rules } from '../../../app/kit/rules';
import type { Treatment } from '../../../player/compiling';
import { newGesture } from '../../../ui/gestures';

export type KindOf = Treatment['kind'];
export type Of<K extends KindOf> = Extract<Treatment, { kind: K }>;
export type EqBand = Of<'eq'>['bands'][number];

export const of = <K extends KindOf>(channel: Channel, kind: K) =>
  (channel.treatments.find((treatment) => treatment.kind === kind) as Of<K> | undefined) ?? null;

/** A channel's treatments with one replaced. The core decides the processing order. */
export const withTreatment = (treatments: readonly Treatment[], treatment: Treatment): Treatment[] => [
  ...treatments.filter((each) => each.kind !== treatment.kind),
  treatment,
];

/** Hear a turned treatment. */
export function turnTreatment(id: string, treatment: Treatment) {
  const channel = channelNow(id);
  if (channel) turn(id, { treatments: withTreatment(channel.treatments, treatment) });
}

/** One kind on a channel: its settings or defaults, and actions on it. */
export function stageOf<K extends KindOf>(channel: Channel, kind: K) {
  const set = of(channel, kind);
  const first: { [P in KindOf]: Of<P> } = rules().treatments;
  const now = set ?? first[kind];
  const keep = (gesture: string) => keepTreatments(channel.id, gesture);
  /** Turning a treatment that is off switches it on, because it is meant to be heard. */
  const turnPart = (part: Partial<Of<K>>) => turnTreatment(channel.id, { ...now, ...part, on: true } as Treatment);
  return {
    now,
    on: set?.on ?? false,
    turn: turnPart,
    keep,
    set: (part: Partial<Of<K>>, gesture = newGesture(kind)) => {
      turnPart(part);
      keep(gesture);
    },
    switchTo: (on: boolean) => {
      turnTreatment(channel.id, { ...now, on } as Treatment);
      keep(newGesture(kind));
    },
  };
}

/** Save a channel's turned treatments. */
export function keepTreatments(id: string, gesture: string) {
  const channel = channelNow(id);
  if (!channel) return;
  void keepTurned(id, { kind: 'set_treatments', channel: id, treatments: channel.treatments }, gesture);
}

/** Set all treatments of a channel: pasted, or from a saved item. */
export function setTreatments(id: string, treatments: Treatment[]) {
  turn(id, { treatments });
  keepTreatments(id, newGesture('treatments'));
}
