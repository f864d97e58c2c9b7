/** Routing: put every piece on its own output. One lane a channel, read from left to right as the sound flows. */
import { create } from 'zustand';
import type { KitState } from '../../api/calls';
import { FindingsHere } from '../../app/Findings';
import { useKit } from '../../app/kitStore';
import { lanesOf } from '../../app/lanes';
import { usePlace } from '../../app/place';
import { useStandIns } from '../../app/StrikeBar';
import { AsksName } from '../../ui/AsksName';
import { BusDetail } from './BusDetail';
import { Bleed } from './bleed/Bleed';
import { CellDetail } from './bleed/CellDetail';
import { ChannelDetail } from './ChannelDetail';
import { Clips } from './Clips';
import { Compared, CompareMenu } from './Comparison';
import { LANE, LANE_WITH_SENDS, Lane } from './Lane';
import { LanesTogether } from './LanesTogether';
import { KitLoudness, Loudness } from './Loudness';
import { useMeters } from './meters';
import { Sends } from './Sends';
import { choose, useChosen } from './together';
import { Treatment } from './treatment/Treatment';

/** What of routing is looked at. */
export const useLooking = create<{ at: 'lanes' | 'bleed' }>(() => ({ at: 'lanes' }));

export default function Routing() {
  const kit = useKit((s) => s.kit) as KitState;
  const edit = useKit((s) => s.edit);
  const chosen = useChosen((s) => s.ids);
  const { data } = useStandIns();
  const meters = useMeters();
  const at = useLooking((s) => s.at);
  const lookAt = usePlace((s) => s.lookAt);
  const { channels, buses, outputs } = kit.head;
  const all = lanesOf(kit);
  const { main } = kit.head;
  const open = [...all, main].find((c) => c.id === chosen.at(-1)) ?? channels[0] ?? null;
  const bus = buses.find((each) => each.id === open?.id);
  const order = all.map((channel) => channel.id);
  const used = new Set(all.filter((c) => !c.bus).map((c) => c.output || 1));
  return (
    <div className="panes grid min-h-0 grid-cols-[208px_minmax(0,1fr)_264px] max-[1180px]:grid-cols-[180px_minmax(0,1fr)_212px]">
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls and holds nothing else to stop at */}
      <aside className="overflow-y-auto border-r border-line px-2.5 py-3" aria-label="Outputs of the host" tabIndex={0}>
        <h2 className="head mx-1.5 mb-2 flex justify-between">
          <span>Outputs of {kit.head.host}</span>
          <span>
            {used.size} of {outputs.length}
          </span>
        </h2>
        <ul>
          {outputs.map((output) => {
            const into = all.filter((c) => !c.bus && (c.output || 1) === output.number);
            return (
              <li key={output.number} className="grid grid-cols-[26px_1fr_auto] items-center gap-2 px-1.5 py-[4px]">
                <span className="grid justify-items-start gap-0.5">
                  <span className="tag">{output.number}</span>
                  <Clips name={`out ${output.number}`} of={`Output ${output.number}`} />
                </span>
                <span className="min-w-0">
                  <span className={`block truncate leading-tight ${into.length ? 'font-semibold' : 'text-faint'}`}>
                    {into.length ? output.name : 'free'}
                  </span>
                  <span className="num text-[11.5px] text-faint">
                    {output.width} ·{' '}
                    {output.width === 'stereo' ? `${output.number * 2 - 1}/${output.number * 2}` : output.number}
                  </span>
                </span>
                <span className="flex h-7 gap-[3px]" aria-hidden="true">
                  {(output.width === 'stereo' ? [0, 1] : [0]).map((side) => (
                    <span
                      key={side}
                      ref={meters.keep(`out ${output.number} ${side}`)}
                      className="leaving relative w-1.5 overflow-hidden rounded-full bg-sunk"
                    >
                      <i className="level" />
                      <i className="held" />
                    </span>
                  ))}
                </span>
              </li>
            );
          })}
        </ul>
      </aside>
      <main className="flex min-h-0 flex-col gap-2 overflow-x-hidden overflow-y-auto px-[18px] py-3">
        <div className="flex flex-wrap items-center gap-2.5">
          <h1>Routing</h1>
          <span className="flex gap-1" role="tablist" aria-label="What of routing is looked at">
            {(['lanes', 'bleed'] as const).map((each) => (
              <button
                key={each}
                type="button"
                role="tab"
                aria-selected={at === each}
                className="btn aria-selected:border-ink aria-selected:font-semibold"
                onClick={() => useLooking.setState({ at: each })}
              >
                {each === 'lanes' ? 'Lanes' : 'Bleed'}
              </button>
            ))}
          </span>
          <span className="text-soft max-[1420px]:hidden">
            {at === 'bleed'
              ? 'how much of each piece every microphone lets in'
              : `${kit.head.host}: ${outputs.length} outputs, simulated`}
          </span>
          <span className="grow" />
          {channels.length > 0 && <CompareMenu />}
          {at === 'bleed' ? (
            <>
              <button type="button" className="btn" onClick={() => void edit({ kind: 'close_only' })}>
                Close microphones only
              </button>
              <button type="button" className="btn" onClick={() => void edit({ kind: 'all_as_recorded' })}>
                All as recorded
              </button>
            </>
          ) : (
            <>
              {channels.length > 0 && (
                <AsksName
                  label="Name of the bus"
                  says="Add a bus"
                  className="btn"
                  title="Several channels are sent into a bus, treated there together, and go on from there"
                  onName={(name) => void edit({ kind: 'make_bus', name })}
                />
              )}
              <button
                type="button"
                className="btn"
                aria-pressed={!kit.head.treated}
                title="Let all sound pass by all treatment; what was set is kept"
                onClick={() => void edit({ kind: 'bypass_treatment', bypassed: kit.head.treated })}
              >
                <span>
                  {kit.head.treated ? 'Bypass all' : 'All'}
                  <span className="max-[1420px]:sr-only"> treatment</span>
                  {kit.head.treated ? '' : ' bypassed'}
                </span>
              </button>
              {data?.plans.map((plan, place) => (
                <button
                  key={plan.id}
                  type="button"
                  className={`btn ${place === 0 ? 'btn-go' : ''}`}
                  disabled={!channels.length}
                  onClick={() => void edit({ kind: 'apply_plan', plan: plan.id })}
                  title={
                    place === 0
                      ? 'Kick, snare, hats, toms, cymbals, percussion, overheads and room on outputs 2 to 9'
                      : undefined
                  }
                >
                  {plan.name}
                </button>
              ))}
            </>
          )}
        </div>
        {at === 'bleed' ? (
          <Bleed />
        ) : (
          <>
            <div className={`${buses.length ? LANE_WITH_SENDS : LANE} px-3 text-tiny font-semibold text-faint`}>
              <span>Channel</span>
              <span>Treatment</span>
              <span>Level and what passes</span>
              <span>Pan</span>
              <span>Hear</span>
              {buses.length > 0 && <span className="max-[1180px]:hidden">Sends</span>}
              <span>Goes to</span>
            </div>
            <div
              className="-mx-0.5 grid min-h-[96px] content-start gap-1 overflow-y-auto px-0.5 pt-0.5 pb-1"
              data-testid="lanes"
            >
              {channels.length === 0 && (
                <p className="text-soft">No channels yet. They come with the pieces: make some under Recordings.</p>
              )}
              {all.map((channel) => (
                <Lane
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
            <Lane
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
        {at === 'bleed' ? (
          <CellDetail />
        ) : open && open.id !== main.id ? (
          <>
            <LanesTogether open={open} />
            {bus ? <BusDetail key={`bus ${open.id}`} bus={bus} /> : <ChannelDetail channel={open} />}
            <Sends channel={open} />
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
            <p className="text-small text-soft">Press a lane to see which microphones feed it, and to add bleed.</p>
          </section>
        )}
        <FindingsHere step="routing" belongs={(f) => f.where.step === 'routing'} />
      </aside>
    </div>
  );
}
