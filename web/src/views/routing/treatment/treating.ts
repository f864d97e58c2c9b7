/** One kind of treatment of a channel: as it stands, turned while one listens, kept when the hand lets go. */
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

/** A channel's treatments with one of a kind in the place of the one it had. In which order sound passes them is the core's. */
export const withTreatment = (treatments: readonly Treatment[], treatment: Treatment): Treatment[] => [
  ...treatments.filter((each) => each.kind !== treatment.kind),
  treatment,
];

/** Hear a treatment as it is turned. */
export function turnTreatment(id: string, treatment: Treatment) {
  const channel = channelNow(id);
  if (channel) turn(id, { treatments: withTreatment(channel.treatments, treatment) });
}

/** One kind on a channel: as it is set or would begin, and what hands do to it. */
export function stageOf<K extends KindOf>(channel: Channel, kind: K) {
  const set = of(channel, kind);
  const first: { [P in KindOf]: Of<P> } = rules().treatments;
  const now = set ?? first[kind];
  const keep = (gesture: string) => keepTreatments(channel.id, gesture);
  /** What is turned while it is off is switched on: it is meant to be heard. */
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

/** Keep what was turned of a channel's treatments. */
export function keepTreatments(id: string, gesture: string) {
  const channel = channelNow(id);
  if (!channel) return;
  void keepTurned(id, { kind: 'set_treatments', channel: id, treatments: channel.treatments }, gesture);
}

/** All treatments of a channel at once: pasted, or put on from the shelf. */
export function setTreatments(id: string, treatments: Treatment[]) {
  turn(id, { treatments });
  keepTreatments(id, newGesture('treatments'));
}
