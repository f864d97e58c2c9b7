/** A channel with and without treatment at equal loudness: the measured difference, and what can be done with it. */
import { useEffect } from 'react';
import { create } from 'zustand';
import type { Channel, Figure } from '../../../api/calls';
import { type FigureNow, figureOf, useFigure } from '../../../app/comparing/figures';
import { hearBefore, useBefore } from '../../../app/kit/before';
import { allChannelsOf } from '../../../app/kit/channels';
import { channelNow, keepTurned, turn } from '../../../app/kit/desk';
import { transport, useKit } from '../../../app/kit/kitStore';
import { within } from '../../../app/kit/rules';
import { useTransport } from '../../../app/playing/grooves';
import { WHOLE_KIT } from '../../../player/listened';
import { newGesture } from '../../../ui/gestures';
import { keepTreatments, of as treatmentOf, turnTreatment } from './treating';

export interface Compared extends FigureNow {
  /** The name of the groove used. */
  groove: string;
  /** Whether there is any treatment. */
  treats: boolean;
  /** Whether the input is heard now. */
  before: boolean;
  listen: (before: boolean) => void;
}

const works = ({ treatments }: Channel) => treatments.some((treatment) => treatment.on);

function useListening(of: string, { figure, ...now }: FigureNow, groove: string, treats: boolean): Compared {
  const before = useBefore((s) => s.of === of);
  const louder = figure?.louder_db ?? 0;
  // A new figure changes the gain of what is heard.
  useEffect(() => {
    if (before) hearBefore(of, louder);
  }, [before, of, louder]);
  return { figure, ...now, groove, treats, before, listen: (on) => hearBefore(on ? of : null, louder) };
}

/** A saved channel, compared in the current groove. */
export function useCompared(channel: Channel): Compared {
  const groove = useTransport(() => transport.groove);
  const treats = works(channel);
  const now = useFigure(groove && treats ? { kind: 'channel', channel: channel.id, groove: groove.id } : null);
  return useListening(channel.id, now, groove?.name ?? '', treats);
}

/** All outputs, compared with the same without any treatment. */
export function useKitCompared(): Compared {
  const groove = useTransport(() => transport.groove);
  const treats = useKit(
    (s) => s.kit !== null && allChannelsOf(s.kit).some((channel) => channel.treated && works(channel)),
  );
  const now = useFigure(groove ? { kind: 'kit', groove: groove.id } : null);
  return useListening(WHOLE_KIT, now, groove?.name ?? '', treats);
}

/** The level set to compensate a channel's treatment, for one figure, so that it is not applied twice. */
const useEvened = create<Record<string, { louder: number; level: number }>>(() => ({}));

/** Compensate by the channel's level what its treatment made louder. `done` if that is the present state. */
export function useKeepEqual(channel: Channel, figure: Figure | null) {
  const evened = useEvened((s) => s[channel.id]);
  const louder = figure?.louder_db ?? 0;
  const done = evened?.louder === louder && evened.level === channel.level_db;
  const keep = () => {
    const level = within('channel.level_db', Number((channel.level_db - louder).toFixed(1)));
    useEvened.setState({ [channel.id]: { louder, level } });
    turn(channel.id, { level_db: level });
    void keepTurned(
      channel.id,
      { kind: 'set_channel', channel: channel.id, level_db: level },
      newGesture('matched in loudness'),
    );
  };
  return { done, keep };
}

/** Set the compressor's make-up so that the channel's treatment does not change its loudness. */
export async function evenMakeUp(channel: Channel) {
  const { groove } = transport;
  const { say } = useKit.getState();
  if (!groove) return;
  const asked = JSON.stringify(channel.treatments);
  try {
    const { db } = await figureOf({ kind: 'make_up', channel: channel.id, groove: groove.id });
    const now = channelNow(channel.id);
    const compressor = now && treatmentOf(now, 'compressor');
    // Turned meanwhile: the result is for other settings.
    if (!compressor || db === null || JSON.stringify(now.treatments) !== asked) return;
    turnTreatment(channel.id, { ...compressor, make_up_db: db });
    keepTreatments(channel.id, newGesture('make-up'));
  } catch (error) {
    say((error as Error).message);
  }
}
