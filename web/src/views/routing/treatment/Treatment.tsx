/** The treatments of the selected channel, in processing order, below the channels. */
import { useSyncExternalStore } from 'react';
import { create } from 'zustand';
import type { Channel } from '../../../api/calls';
import { keepTurned, turn, useChannel } from '../../../app/kit/desk';
import { signed } from '../../../app/kit/format';
import { useKit } from '../../../app/kit/kitStore';
import type { Treatment as Treated } from '../../../player/compiling';
import { newGesture } from '../../../ui/gestures';
import { SpaceStage } from '../space/SpaceStage';
import { BeforeAfter } from './BeforeAfter';
import { CompressorChart } from './CompressorChart';
import { DriveChart } from './DriveChart';
import { EqChart } from './EqChart';
import { useCompared } from './equally';
import { KeptByName } from './KeptByName';
import { setTreatments } from './treating';

interface StripStore {
  copied: { from: string; treatments: Treated[] } | null;
  folded: boolean | null;
  /** For a bus: which part is open; null: its reverb, if it has one. */
  open: 'treatment' | 'space' | null;
}

/** Copied treatments to paste on another channel, and what is open. */
export const useStrip = create<StripStore>(() => ({ copied: null, folded: null, open: null }));

/** If three charts do not fit side by side, the panel starts folded. */
const NARROW = window.matchMedia('(max-width: 1180px), (max-height: 720px)');
const useNarrow = () =>
  useSyncExternalStore(
    (changed) => {
      NARROW.addEventListener('change', changed);
      return () => NARROW.removeEventListener('change', changed);
    },
    () => NARROW.matches,
  );

export function Treatment({ channel: kept }: { channel: Channel }) {
  const channel = useChannel(kept);
  const compared = useCompared(kept);
  const copied = useStrip((s) => s.copied);
  const narrow = useNarrow();
  const folded = useStrip((s) => s.folded) ?? narrow;
  const bus = useKit((s) => s.kit?.head.buses.find((each) => each.id === channel.bus)?.name);
  const isBus = useKit((s) => s.kit?.head.buses.some((each) => each.id === channel.id) ?? false);
  const chosen = useStrip((s) => s.open) ?? (channel.space ? 'space' : 'treatment');
  const part = isBus ? chosen : 'treatment';
  const goes = channel.id === 'main' ? 'out 1' : (bus ?? (channel.output ? `out ${channel.output}` : 'main'));
  return (
    <section aria-label={`Treatment of ${channel.name}`} className="grid shrink-0 gap-1.5" data-testid="treatment">
      <div className="flex flex-wrap items-center gap-2">
        <h2 className="text-[15px]">{channel.name}</h2>
        {compared.before ? (
          <span className="min-w-0 flex-1 basis-0 truncate text-small text-plum">
            without treatment, {signed(compared.figure?.louder_db ?? 0)} dB to match loudness
          </span>
        ) : (
          <span className="num min-w-0 flex-1 basis-0 truncate text-tiny text-soft">
            in → EQ → compressor → drive →{isBus ? ' space →' : ''} level → {goes}
          </span>
        )}
        {isBus && (
          <span className="flex" role="radiogroup" aria-label="Treatment or reverb">
            {(['treatment', 'space'] as const).map((each) => (
              <button
                key={each}
                type="button"
                role="radio"
                aria-checked={part === each}
                className="btn px-2 py-0.5 first:rounded-r-none last:rounded-l-none last:border-l-0 aria-checked:bg-ink aria-checked:text-card"
                onClick={() => useStrip.setState({ open: each, folded: false })}
              >
                {each === 'space' ? 'Reverb or echo' : 'Treatment'}
              </button>
            ))}
          </span>
        )}
        {part === 'treatment' && (
          <>
            <BeforeAfter compared={compared} of={channel.name} />
            <KeptByName channel={channel} />
            <button
              type="button"
              className="btn px-2 py-0.5"
              aria-pressed={!channel.treated}
              title="Bypass this channel’s treatment; settings are kept"
              onClick={() => {
                turn(channel.id, { treated: !channel.treated });
                void keepTurned(
                  channel.id,
                  { kind: 'set_channel', channel: channel.id, treated: !channel.treated },
                  newGesture('bypass'),
                );
              }}
            >
              {channel.treated ? 'Bypass' : 'Bypassed'}
            </button>
            <button
              type="button"
              className="btn px-2 py-0.5"
              disabled={!channel.treatments.length}
              onClick={() => useStrip.setState({ copied: { from: channel.name, treatments: channel.treatments } })}
            >
              Copy
            </button>
            <button
              type="button"
              className="btn px-2 py-0.5"
              disabled={!copied}
              title={copied ? `Paste the treatment of ${copied.from}` : 'Copy a channel’s treatment first'}
              onClick={() => copied && setTreatments(channel.id, copied.treatments)}
            >
              Paste
            </button>
          </>
        )}
        <button
          type="button"
          className="btn px-2 py-0.5"
          aria-expanded={!folded}
          onClick={() => useStrip.setState({ folded: !folded })}
        >
          {folded ? 'Unfold' : 'Fold'}
        </button>
      </div>
      {!folded && part === 'space' && <SpaceStage bus={channel} narrow={narrow} />}
      {!folded && part === 'treatment' && (
        <div
          className={`grid gap-2 ${
            narrow ? 'grid-cols-1' : 'grid-cols-[minmax(0,1.05fr)_minmax(0,1.35fr)_minmax(0,0.7fr)]'
          }`}
        >
          <EqChart channel={channel} />
          <CompressorChart channel={channel} />
          <DriveChart channel={channel} />
        </div>
      )}
    </section>
  );
}
