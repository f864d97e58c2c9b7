/** One channel: feeds, treatments, level, pan, mute, solo, destination. Main is one too, at the foot. */
import type { MouseEvent } from 'react';
import type { Channel, KitState } from '../../api/calls';
import { channelsAlone } from '../../app/comparing/solo';
import { channelsOf, MAIN } from '../../app/kit/channels';
import { useChannel } from '../../app/kit/desk';
import { decibels, panName } from '../../app/kit/format';
import { useKit } from '../../app/kit/kitStore';
import { Fader } from '../../ui/Fader';
import { newGesture } from '../../ui/gestures';
import { Pick } from '../../ui/Pick';
import { Slider } from '../../ui/Slider';
import { Clips } from './Clips';
import { SendsOnChannel } from './Sends';
import { busesFor } from './sending';
import { goTo, keepLevel, keepSame, turnLevel, turnSame } from './together';
import { Glyphs } from './treatment/Glyphs';

export const CHANNEL =
  'grid grid-cols-[minmax(84px,0.7fr)_92px_minmax(120px,1.1fr)_104px_62px_118px] max-[1180px]:grid-cols-[minmax(72px,0.7fr)_92px_minmax(96px,1.1fr)_84px_62px_92px] items-center gap-3 max-[1180px]:gap-2';
/** The same with a column for sends, if there are buses; on a small page sends are shown only for the open channel. */
export const CHANNEL_WITH_SENDS =
  'grid grid-cols-[minmax(84px,0.8fr)_92px_minmax(96px,1fr)_84px_62px_108px_122px] max-[1180px]:grid-cols-[minmax(72px,0.7fr)_92px_minmax(96px,1.1fr)_84px_62px_92px] items-center gap-2.5 max-[1180px]:gap-2';

const LETTERS = 'ABCDEFGHIJKLMNOPQRSTUVWXYZ';

const grouped = (kit: KitState, group: number) =>
  channelsOf(kit)
    .filter(({ id }) => kit.head.groups[group]?.includes(id))
    .map(({ name }) => name)
    .join(', ');

interface ChannelProps {
  channel: Channel;
  /** Its charts are open. */
  open: boolean;
  chosen: boolean;
  onChoose: (keys: MouseEvent) => void;
  meter: (node: HTMLElement | null) => void;
}

export function ChannelStrip({ channel: kept, open, chosen, onChoose, meter }: ChannelProps) {
  const kit = useKit((s) => s.kit) as KitState;
  const main = kept.id === MAIN;
  const { buses } = kit.head;
  const bus = buses.some((each) => each.id === kept.id);
  const channel = useChannel(kept);
  const soloed = channelsAlone.use((s) => s.ids.has(channel.id));
  const first = kit.head.outputs.find((output) => output.number === 1)?.width;
  const mics = [...new Set(channel.feeds.map((feed) => feed.mic))];
  const named = mics.map((id) => kit.head.mics.find((mic) => mic.id === id)).filter((mic) => mic !== undefined);
  const group = kit.head.groups.findIndex((ids) => ids.includes(kept.id));
  return (
    <div
      className={`${buses.length ? CHANNEL_WITH_SENDS : CHANNEL} min-h-[37px] shrink-0 rounded-[9px] border border-line px-3 ${
        bus ? 'bg-plum-wash' : 'bg-card'
      } ${main ? 'on-foot' : ''} ${
        open
          ? main
            ? 'shadow-[0_0_0_2px_var(--zest)]'
            : 'shadow-[0_0_0_2px_var(--ink)]'
          : chosen
            ? 'shadow-[0_0_0_1.5px_var(--soft)]'
            : ''
      }`}
      data-channel={channel.id}
    >
      <span className="flex min-w-0 items-center gap-1">
        <button
          type="button"
          className="min-w-0 grow truncate text-left"
          onClick={onChoose}
          aria-pressed={chosen}
          title={main ? 'Main: everything not routed elsewhere' : 'Ctrl or Shift selects several channels'}
        >
          <span className="font-semibold">{channel.name}</span>{' '}
          <span className="num text-[11.5px] text-faint">
            {main
              ? 'everything not routed elsewhere'
              : bus
                ? channel.space?.on
                  ? channel.space.kind
                  : 'bus'
                : named.length > 2
                  ? `${named.length} microphones`
                  : named.map((mic) => shortName(mic, channel)).join(' + ')}
          </span>
        </button>
        {group >= 0 && (
          <span className="tag border-plum px-1 text-plum" title={`Grouped: ${grouped(kit, group)}`}>
            <span className="sr-only">group </span>
            {LETTERS[group] ?? group + 1}
          </span>
        )}
        <Clips name={`channel ${channel.id}`} of={channel.name} />
      </span>
      <Glyphs channel={channel} rate={kit.head.rate_hz} />
      <Fader
        label={`Level of ${channel.name}`}
        value={channel.level_db}
        meter={meter}
        show={(v) => `${decibels(v)} dB`}
        late
        onTurn={(level_db) => turnLevel(channel.id, level_db)}
        onChange={(level_db, gesture) => keepLevel(channel.id, level_db, gesture)}
      />
      <Slider
        label={`Pan of ${channel.name}`}
        value={channel.pan}
        min={-1}
        max={1}
        step={0.01}
        page={0.1}
        reset={0}
        tone="pan"
        show={panName}
        late
        onTurn={(pan) => turnSame(channel.id, { pan })}
        onChange={(pan, gesture) => keepSame(channel.id, { pan }, gesture)}
      />
      <span className="flex gap-1">
        <button
          type="button"
          aria-pressed={channel.muted}
          aria-label={`Mute ${channel.name}`}
          title="Mute"
          className="tag w-7 py-0.5 text-center aria-pressed:border-ink aria-pressed:bg-ink aria-pressed:text-card"
          onClick={() => keepSame(channel.id, { muted: !channel.muted }, newGesture('channel'))}
        >
          M
        </button>
        {!main && (
          <button
            type="button"
            aria-pressed={soloed}
            aria-label={`Solo ${channel.name}`}
            title="Solo: hear it alone (listening only; the kit does not change)"
            className="tag w-7 py-0.5 text-center aria-pressed:border-plum aria-pressed:bg-plum aria-pressed:text-card"
            onClick={() => channelsAlone.toggle(channel.id)}
          >
            S
          </button>
        )}
      </span>
      {buses.length > 0 && (
        <span className="min-w-0 max-[1180px]:hidden">{!main && <SendsOnChannel channel={channel} />}</span>
      )}
      {main ? (
        <span className="num truncate rounded-md border border-line px-2 py-0.5">→ 1 · {first}</span>
      ) : (
        <Pick
          label={`${channel.name} goes to`}
          value={channel.bus || String(channel.output)}
          options={[
            { value: '0', name: '→ main' },
            ...busesFor(kit, channel).map((each) => ({ value: each.id, name: `→ ${each.name}` })),
            ...kit.head.outputs
              .filter((o) => o.number > 1)
              .map((o) => ({ value: String(o.number), name: `→ ${o.number} · ${o.name}` })),
          ]}
          onChange={(to) => goTo(channel.id, to)}
          className={`w-full font-mono text-[11.5px] ${channel.output || channel.bus ? 'border-ink font-semibold' : ''}`}
        />
      )}
    </div>
  );
}

/** A microphone's name without the channel's name in front. */
function shortName(mic: { name: string; inverted?: boolean }, channel: Channel): string {
  const rest = mic.name.toLowerCase().startsWith(`${channel.name.toLowerCase()} `)
    ? mic.name.slice(channel.name.length + 1)
    : mic.name;
  return (rest === channel.name ? channel.width : rest) + (mic.inverted ? ' Ø' : '');
}
