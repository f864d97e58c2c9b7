/** The channel chosen: its feeds with their levels, and where it goes. */
import type { Channel, KitState } from '../../api/calls';
import { signed } from '../../app/format';
import { useKit } from '../../app/kitStore';
import { Fader } from '../../ui/Fader';
import { Pick } from '../../ui/Pick';

export function ChannelDetail({ channel }: { channel: Channel }) {
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
