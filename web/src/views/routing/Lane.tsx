/** One channel as a lane: what feeds it, level, pan, mute, solo, where it goes. */
import type { Change, Channel, KitState } from '../../api/calls';
import { decibels, panName } from '../../app/format';
import { useKit } from '../../app/kitStore';
import { toggleSolo, useSolo } from '../../app/solo';
import { Fader } from '../../ui/Fader';
import { Pick } from '../../ui/Pick';
import { Slider } from '../../ui/Slider';

export const LANE =
  'grid grid-cols-[minmax(84px,0.7fr)_minmax(130px,1.2fr)_112px_62px_128px] max-[1180px]:grid-cols-[minmax(80px,0.7fr)_minmax(120px,1.2fr)_92px_62px_104px] items-center gap-3 max-[1180px]:gap-2';

interface LaneProps {
  channel: Channel;
  selected: boolean;
  onSelect: () => void;
  meter: (node: HTMLElement | null) => void;
}

export function Lane({ channel, selected, onSelect, meter }: LaneProps) {
  const kit = useKit((s) => s.kit) as KitState;
  const edit = useKit((s) => s.edit);
  const soloed = useSolo((s) => s.channels.has(channel.id));
  const mics = [...new Set(channel.feeds.map((feed) => feed.mic))];
  const named = mics.map((id) => kit.head.mics.find((mic) => mic.id === id)).filter((mic) => mic !== undefined);
  const change = (part: Change<'set_channel'>, gesture?: string) =>
    void edit(
      {
        kind: 'set_channel',
        channel: channel.id,
        level_db: null,
        pan: null,
        muted: null,
        output: null,
        ...part,
      },
      gesture,
    );
  return (
    <div
      className={`${LANE} min-h-[37px] rounded-[9px] border border-line bg-card px-3 ${selected ? 'shadow-[0_0_0_2px_var(--ink)]' : ''}`}
      data-channel={channel.id}
    >
      <button type="button" className="min-w-0 truncate text-left" onClick={onSelect} aria-pressed={selected}>
        <span className="font-semibold">{channel.name}</span>{' '}
        <span className="num text-[11.5px] text-faint">
          {named.length > 2 ? `${named.length} microphones` : named.map((mic) => shortName(mic, channel)).join(' + ')}
        </span>
      </button>
      <Fader
        label={`Level of ${channel.name}`}
        value={channel.level_db}
        meter={meter}
        show={(v) => `${decibels(v)} dB`}
        onChange={(level_db, gesture) => change({ level_db }, gesture)}
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
        onChange={(pan, gesture) => change({ pan }, gesture)}
      />
      <span className="flex gap-1">
        <button
          type="button"
          aria-pressed={channel.muted}
          aria-label={`Mute ${channel.name}`}
          title="Mute"
          className="tag w-7 py-0.5 text-center aria-pressed:border-ink aria-pressed:bg-ink aria-pressed:text-card"
          onClick={() => change({ muted: !channel.muted })}
        >
          M
        </button>
        <button
          type="button"
          aria-pressed={soloed}
          aria-label={`Solo ${channel.name}`}
          title="Solo: hear it alone; only listening, nothing of the kit changes"
          className="tag w-7 py-0.5 text-center aria-pressed:border-plum aria-pressed:bg-plum aria-pressed:text-card"
          onClick={() => toggleSolo(channel.id)}
        >
          S
        </button>
      </span>
      <Pick
        label={`${channel.name} goes to`}
        value={channel.output}
        options={[
          { value: 0, name: '→ main' },
          ...kit.head.outputs
            .filter((o) => o.number > 1)
            .map((o) => ({ value: o.number, name: `→ ${o.number} · ${o.name}` })),
        ]}
        onChange={(output) => change({ output })}
        className={`w-full font-mono text-[11.5px] ${channel.output ? 'border-ink font-semibold' : ''}`}
      />
    </div>
  );
}

/** A microphone's name without the channel's own in front of it. */
function shortName(mic: { name: string; inverted?: boolean }, channel: Channel): string {
  const rest = mic.name.toLowerCase().startsWith(`${channel.name.toLowerCase()} `)
    ? mic.name.slice(channel.name.length + 1)
    : mic.name;
  return (rest === channel.name ? channel.width : rest) + (mic.inverted ? ' Ø' : '');
}
