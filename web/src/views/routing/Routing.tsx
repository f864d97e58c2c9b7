/** Routing: put every piece on its own output. One row per channel, read from left to right as the sound flows. */
import { create } from 'zustand';
import type { KitState } from '../../api/calls';
import { FindingsHere } from '../../app/findings/Findings';
import { channelsOf } from '../../app/kit/channels';
import { useKit } from '../../app/kit/kitStore';
import { usePlace } from '../../app/kit/place';
import { BusDetail } from './BusDetail';
import { Bleed } from './bleed/Bleed';
import { CellDetail } from './bleed/CellDetail';
import { ChannelDetail } from './ChannelDetail';
import { CHANNEL, CHANNEL_WITH_SENDS, ChannelStrip } from './ChannelStrip';
import { ChannelsToolbar } from './ChannelsToolbar';
import { Compared, CompareMenu } from './Comparison';
import { AtHost, OverTracks } from './host/AtHost';
import { HostShelf } from './host/HostShelf';
import { PlanSide, WhatDidNotFit } from './host/PlanSide';
import { Leaves } from './Leaves';
import { KitLoudness, Loudness } from './Loudness';
import { isOfLines, LinesChanged, LinesFound } from './lines/Lines';
import { useMeters } from './meters';
import { Outputs } from './Outputs';
import { SelectedChannels } from './SelectedChannels';
import { Sends } from './Sends';
import { choose, useChosen } from './together';
import { Treatment } from './treatment/Treatment';

/** Which part of the routing view is shown. */
export const useLooking = create<{ at: 'channels' | 'bleed' | 'host' }>(() => ({ at: 'channels' }));

export default function Routing() {
  const kit = useKit((s) => s.kit) as KitState;
  const edit = useKit((s) => s.edit);
  const chosen = useChosen((s) => s.ids);
  const meters = useMeters();
  const at = useLooking((s) => s.at);
  const lookAt = usePlace((s) => s.lookAt);
  const { channels, buses, outputs } = kit.head;
  const all = channelsOf(kit);
  const { main } = kit.head;
  const open = [...all, main].find((c) => c.id === chosen.at(-1)) ?? channels[0] ?? null;
  const bus = buses.find((each) => each.id === open?.id);
  const order = all.map((channel) => channel.id);
  return (
    <div className="panes grid min-h-0 grid-cols-[208px_minmax(0,1fr)_264px] max-[1180px]:grid-cols-[180px_minmax(0,1fr)_212px]">
      {at === 'host' ? <HostShelf /> : <Outputs meters={meters} />}
      <main className="flex min-h-0 flex-col gap-2 overflow-x-hidden overflow-y-auto px-[18px] py-3">
        <div className="flex flex-wrap items-center gap-1.5">
          <h1>Routing</h1>
          <span className="flex gap-1" role="tablist" aria-label="Routing view">
            {(['channels', 'bleed', 'host'] as const).map((each) => (
              <button
                key={each}
                type="button"
                role="tab"
                aria-selected={at === each}
                className="btn aria-selected:border-ink aria-selected:font-semibold"
                onClick={() => useLooking.setState({ at: each })}
              >
                {{ channels: 'Channels', bleed: 'Bleed', host: 'Host' }[each]}
              </button>
            ))}
          </span>
          <span className="text-soft max-[1420px]:hidden">
            {at === 'bleed'
              ? 'how much of each piece is heard in every microphone'
              : at === 'host'
                ? ''
                : `${kit.head.host} · simulated host, ${outputs.length} outputs`}
          </span>
          <span className="grow" />
          {channels.length > 0 && at !== 'host' && <CompareMenu />}
          {at === 'host' && (
            <span className="flex gap-1 [&_.btn]:px-2">
              <OverTracks />
            </span>
          )}
          {at === 'bleed' && (
            <>
              <button type="button" className="btn" onClick={() => void edit({ kind: 'close_only' })}>
                Close microphones only
              </button>
              <button type="button" className="btn" onClick={() => void edit({ kind: 'all_as_recorded' })}>
                All as recorded
              </button>
            </>
          )}
          {at === 'channels' && <ChannelsToolbar />}
        </div>
        {at === 'bleed' && <Bleed />}
        {at === 'host' && <AtHost meters={meters} />}
        {at === 'channels' && (
          <>
            <div className={`${buses.length ? CHANNEL_WITH_SENDS : CHANNEL} px-3 text-tiny font-semibold text-faint`}>
              <span>Channel</span>
              <span>Treatment</span>
              <span>Level and meter</span>
              <span>Pan</span>
              <span>Mute, solo</span>
              {buses.length > 0 && <span className="max-[1180px]:hidden">Sends</span>}
              <span>Goes to</span>
            </div>
            <div
              className="relative -mx-0.5 grid min-h-[96px] content-start gap-1 overflow-y-auto px-0.5 pt-0.5 pb-1"
              data-testid="channels"
            >
              {channels.length === 0 && (
                <p className="text-soft">No channels yet. They come with the pieces: make some under Recordings.</p>
              )}
              {all.map((channel) => (
                <ChannelStrip
                  key={channel.id}
                  channel={channel}
                  open={open?.id === channel.id}
                  chosen={chosen.includes(channel.id) || open?.id === channel.id}
                  onChoose={(keys) => {
                    choose(channel.id, keys, order);
                    if (kit.order.includes(channel.id)) lookAt({ piece: channel.id });
                  }}
                  meter={meters.keep(`channel ${channel.id}`)}
                />
              ))}
            </div>
            <ChannelStrip
              channel={main}
              open={open?.id === main.id}
              chosen={open?.id === main.id}
              onChoose={(keys) => choose(main.id, keys, order)}
              meter={meters.keep(`channel ${main.id}`)}
            />
            {open && <Treatment key={open.id} channel={open} />}
          </>
        )}
      </main>
      <aside
        className="grid grid-cols-[minmax(0,1fr)] content-start gap-4 overflow-y-auto border-l border-line bg-side p-3.5"
        aria-label="Channel"
      >
        <Compared />
        {at !== 'host' && <WhatDidNotFit />}
        {at === 'bleed' ? (
          <CellDetail />
        ) : at === 'host' ? (
          <>
            <PlanSide />
            <LinesFound />
            <LinesChanged />
          </>
        ) : open && open.id !== main.id ? (
          <>
            <SelectedChannels open={open} />
            {bus ? <BusDetail key={`bus ${open.id}`} bus={bus} /> : <ChannelDetail channel={open} />}
            <Sends channel={open} />
            <Leaves channel={open} />
            <Loudness key={`loudness ${open.id}`} channel={open} />
          </>
        ) : channels.length > 0 ? (
          <>
            <KitLoudness />
            <Loudness channel={main} />
          </>
        ) : (
          <section>
            <h2 className="head">Channel</h2>
            <p className="text-small text-soft">Press a channel to see which microphones feed it, and to add bleed.</p>
          </section>
        )}
        <FindingsHere step="routing" belongs={(f) => f.where.step === 'routing' && (at !== 'host' || !isOfLines(f))} />
      </aside>
    </div>
  );
}
