/** Routing: put every piece on its own output. One lane a channel, read from left to right as the sound flows. */
import { useEffect, useRef, useState } from 'react';
import type { Change, Channel, KitState } from '../../api/calls';
import { FindingsHere } from '../../app/Findings';
import { decibels, gainToDecibels, panName, signed } from '../../app/format';
import { useKit } from '../../app/kitStore';
import { usePlace } from '../../app/place';
import { useStandIns } from '../../app/StrikeBar';
import { toggleSolo, useSolo } from '../../app/solo';
import { Fader, law } from '../../ui/Fader';
import { Pick } from '../../ui/Pick';
import { Slider } from '../../ui/Slider';

export default function Routing() {
  const kit = useKit((s) => s.kit) as KitState;
  const edit = useKit((s) => s.edit);
  const [chosen, setChosen] = useState<string | null>(null);
  const { data } = useStandIns();
  const meters = useMeters();
  const lookAt = usePlace((s) => s.lookAt);
  const { channels, outputs } = kit.head;
  const used = new Set(channels.map((c) => c.output || 1));
  const selected = channels.find((c) => c.id === chosen) ?? null;
  return (
    <div className="grid min-h-0 grid-cols-[208px_minmax(0,1fr)_264px] max-[1180px]:grid-cols-[180px_minmax(0,1fr)_212px]">
      <aside className="overflow-y-auto border-r border-line px-2.5 py-3" aria-label="Outputs of the host">
        <h3 className="mx-1.5 mb-2 flex justify-between">
          <span>Outputs of {kit.head.host}</span>
          <span>
            {used.size} of {outputs.length}
          </span>
        </h3>
        <ul>
          {outputs.map((output) => {
            const into = channels.filter((c) => (c.output || 1) === output.number);
            return (
              <li key={output.number} className="grid grid-cols-[26px_1fr_auto] items-center gap-2 px-1.5 py-[4px]">
                <span className="tag justify-self-start">{output.number}</span>
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
                    <span key={side} className="relative w-1.5 overflow-hidden rounded-full bg-sunk">
                      <span
                        ref={meters.keep(`out ${output.number} ${side}`)}
                        className="absolute inset-0 origin-bottom scale-y-0 rounded-full bg-[var(--v3)]"
                      />
                    </span>
                  ))}
                </span>
              </li>
            );
          })}
        </ul>
      </aside>
      <main className="flex min-h-0 flex-col gap-2.5 overflow-hidden px-[18px] py-3.5">
        <div className="flex flex-wrap items-center gap-2.5">
          <h1>Routing</h1>
          <span className="text-soft max-[1180px]:hidden">
            {kit.head.host}: {outputs.length} outputs, simulated
          </span>
          <span className="grow" />
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
        </div>
        <div className={`${LANE} px-3 text-tiny font-semibold text-faint`}>
          <span>Channel</span>
          <span>Level and what passes</span>
          <span>Pan</span>
          <span>Hear</span>
          <span>Goes to</span>
        </div>
        <div className="grid min-h-0 content-start gap-1 overflow-y-auto pb-2">
          {channels.length === 0 && (
            <p className="text-soft">No channels yet. They come with the pieces: make some under Recordings.</p>
          )}
          {channels.map((channel) => (
            <Lane
              key={channel.id}
              channel={channel}
              selected={chosen === channel.id}
              onSelect={() => {
                setChosen(channel.id);
                if (kit.order.includes(channel.id)) lookAt({ piece: channel.id });
              }}
              meter={meters.keep(`channel ${channel.id}`)}
            />
          ))}
          <div className={`${LANE} mt-1.5 min-h-[38px] rounded-[9px] bg-foot px-3 text-foot-ink`}>
            <span className="font-semibold">
              Main <span className="num ml-1 font-normal text-foot-soft">what is left</span>
            </span>
            <Fader
              label="Level of main"
              value={kit.head.main_level_db}
              tone="foot"
              meter={meters.keep('main')}
              show={(v) => `${decibels(v)} dB`}
              onChange={(level_db, gesture) => void edit({ kind: 'set_main_level', level_db }, gesture)}
            />
            <span />
            <span />
            <span className="num rounded-md border border-foot-line px-2 py-0.5">→ 1 · stereo</span>
          </div>
        </div>
      </main>
      <aside
        className="grid grid-cols-[minmax(0,1fr)] content-start gap-4 overflow-y-auto border-l border-line bg-side p-3.5"
        aria-label="Channel"
      >
        {selected ? (
          <ChannelDetail channel={selected} />
        ) : (
          <section>
            <h3>Channel</h3>
            <p className="text-small text-soft">Press a lane to see which microphones feed it, and to add bleed.</p>
          </section>
        )}
        <FindingsHere belongs={(f) => f.where.step === 'routing'} />
      </aside>
    </div>
  );
}

const LANE =
  'grid grid-cols-[minmax(84px,0.7fr)_minmax(130px,1.2fr)_112px_62px_128px] max-[1180px]:grid-cols-[minmax(80px,0.7fr)_minmax(120px,1.2fr)_92px_62px_104px] items-center gap-3 max-[1180px]:gap-2';

/** Meters written straight into the page, once a frame, without rendering anything again. */
function useMeters() {
  const player = useKit((s) => s.player);
  const nodes = useRef(new Map<string, HTMLElement>());
  const keepers = useRef(new Map<string, (node: HTMLElement | null) => void>());
  useEffect(() => {
    if (!player) return;
    let frame = 0;
    const place = (peak: number) => Math.max(0, Math.min(1, law.to(gainToDecibels(peak))));
    const draw = () => {
      for (const [name, node] of nodes.current) {
        const [kind, id, side] = name.split(' ') as [string, string, string | undefined];
        if (kind === 'out') {
          const peak = player.outputPeaks(Number(id))[Number(side)] ?? 0;
          node.style.scale = `1 ${place(peak)}`;
          node.style.background = peak > 1 ? 'var(--v6)' : '';
        } else {
          const peak = kind === 'main' ? Math.max(0, ...player.outputPeaks(1)) : player.channelPeak(id);
          node.style.scale = `${place(peak)} 1`;
        }
      }
      frame = requestAnimationFrame(draw);
    };
    frame = requestAnimationFrame(draw);
    return () => cancelAnimationFrame(frame);
  }, [player]);
  const keep = (name: string) => {
    const known = keepers.current.get(name);
    if (known) return known;
    const made = (node: HTMLElement | null) => {
      if (node) nodes.current.set(name, node);
      else nodes.current.delete(name);
    };
    keepers.current.set(name, made);
    return made;
  };
  return { keep };
}

interface LaneProps {
  channel: Channel;
  selected: boolean;
  onSelect: () => void;
  meter: (node: HTMLElement | null) => void;
}

function Lane({ channel, selected, onSelect, meter }: LaneProps) {
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

function ChannelDetail({ channel }: { channel: Channel }) {
  const kit = useKit((s) => s.kit) as KitState;
  const pieces = useKit((s) => s.pieces);
  const edit = useKit((s) => s.edit);
  const mic = (id: string) => kit.head.mics.find((m) => m.id === id);
  const letIn = (feed: Channel['feeds'][number], part: { level_db?: number; on?: boolean }, gesture?: string) =>
    void edit(
      {
        kind: 'set_feed',
        piece: feed.piece,
        mic: feed.mic,
        channel: channel.id,
        level_db: feed.level_db ?? 0,
        on: feed.on ?? true,
        ...part,
      },
      gesture,
    );
  return (
    <section className="grid gap-2">
      <h3>What enters</h3>
      <h2 className="text-[15px]">
        {channel.name} <span className="font-normal text-faint">{channel.width}</span>
      </h2>
      {channel.feeds.map((feed) => (
        <div key={`${feed.piece} ${feed.mic}`} className="grid gap-0.5">
          <span className="flex items-baseline justify-between text-small">
            <label className="flex items-center gap-1.5">
              <input
                type="checkbox"
                checked={feed.on ?? true}
                onChange={(event) => letIn(feed, { on: event.target.checked })}
              />
              <span className={feed.on === false ? 'text-faint line-through' : ''}>
                {pieces.get(feed.piece)?.name} <span className="text-faint">in {mic(feed.mic)?.name}</span>
              </span>
            </label>
            <button
              type="button"
              className="link text-tiny"
              onClick={() =>
                void edit({ kind: 'set_feed', piece: feed.piece, mic: feed.mic, channel: channel.id, level_db: null })
              }
            >
              Take out
            </button>
          </span>
          <Fader
            label={`${pieces.get(feed.piece)?.name} in ${mic(feed.mic)?.name}`}
            value={feed.level_db ?? 0}
            show={(v) => `${signed(v)} dB`}
            onChange={(level_db, gesture) => letIn(feed, { level_db }, gesture)}
          />
        </div>
      ))}
      {[...new Set(channel.feeds.map((f) => f.piece))].map((id) => {
        const piece = pieces.get(id);
        return (
          piece && (
            <div key={id} className="grid gap-0.5 border-t border-line pt-1.5">
              <span className="text-small">{piece.name} everywhere</span>
              <Fader
                label={`${piece.name} in all its channels`}
                value={piece.level_db}
                show={(v) => `${signed(v)} dB`}
                onChange={(level_db, gesture) => void edit({ kind: 'set_piece', piece: id, level_db }, gesture)}
              />
            </div>
          )
        );
      })}
      {channel.feeds.length === 0 && <p className="text-small text-soft">Nothing enters this channel.</p>}
      <AddFeed channel={channel} />
      {[...new Set(channel.feeds.map((f) => f.mic))].map((id) => {
        const found = mic(id);
        return (
          found && (
            <span key={id} className="grid gap-1 text-small">
              <label className="flex items-center gap-2">
                <input
                  type="checkbox"
                  checked={found.inverted ?? false}
                  onChange={() => void edit({ kind: 'flip_polarity', mic: id })}
                />
                Turn the polarity of {found.name} round
              </label>
              <label className="flex items-center gap-2">
                <input
                  type="checkbox"
                  checked={found.muted ?? false}
                  onChange={(event) => void edit({ kind: 'set_mic', mic: id, muted: event.target.checked })}
                />
                Mute {found.name} everywhere
              </label>
            </span>
          )
        );
      })}
    </section>
  );
}

/** Bleed and other microphones that could enter: a piece in a microphone that does not feed this channel yet. */
function AddFeed({ channel }: { channel: Channel }) {
  const kit = useKit((s) => s.kit) as KitState;
  const edit = useKit((s) => s.edit);
  const pieces = useKit((s) => s.pieces);
  const there = new Set(channel.feeds.map((f) => `${f.piece} ${f.mic}`));
  const free = [...pieces.values()]
    .flatMap((piece) => piece.heard_by.map((mic) => ({ piece: piece.id, mic })))
    .filter((feed) => !there.has(`${feed.piece} ${feed.mic}`));
  return (
    <Pick
      label="Let another microphone in"
      value=""
      options={[
        { value: '', name: 'Let another microphone in…' },
        ...free.map((o, place) => ({
          value: String(place),
          name: `${pieces.get(o.piece)?.name} in ${kit.head.mics.find((m) => m.id === o.mic)?.name}`,
        })),
      ]}
      onChange={(value) => {
        const chosen = value ? free[Number(value)] : undefined;
        if (chosen) void edit({ kind: 'set_feed', ...chosen, channel: channel.id, level_db: 0 });
      }}
    />
  );
}
