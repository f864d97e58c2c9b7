/** The selected channel: its feeds with their levels, and its destination. */
import type { Channel, KitState } from '../../api/calls';
import { useFigure } from '../../app/comparing/figures';
import { decibels, signed } from '../../app/kit/format';
import { useKit } from '../../app/kit/kitStore';
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
  const fed = [...new Set(channel.feeds.map((f) => f.piece))];
  return (
    <section className="grid grid-cols-[minmax(0,1fr)] gap-2">
      <h2 className="head">Inputs</h2>
      <h2 className="text-[15px]">
        {channel.name} <span className="font-normal text-faint">{channel.width}</span>
      </h2>
      {channel.feeds.map((feed) => (
        <div key={`${feed.piece} ${feed.mic}`} className="grid gap-0.5">
          <span className="flex items-center justify-between gap-1 text-small">
            <label className="flex min-w-0 items-center gap-1">
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
              Remove{' '}
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
      {fed.map((id) => {
        const piece = pieces.get(id);
        return (
          piece && (
            <div key={id} className="grid gap-0.5 border-t border-line pt-1.5">
              <span className="flex flex-wrap justify-between gap-x-2 text-small">
                <span>{piece.name} level, all microphones</span>
                {fed.length === 1 && <PieceLevel piece={id} />}
              </span>
              <Fader
                label={`${piece.name} level, all microphones`}
                value={piece.level_db}
                show={(v) => `${signed(v)} dB`}
                onChange={(level_db, gesture) => void edit({ kind: 'set_piece', piece: id, level_db }, gesture)}
              />
            </div>
          )
        );
      })}
      {channel.feeds.length === 0 && <p className="text-small text-soft">This channel has no inputs.</p>}
      <AddFeed channel={channel} />
      <Microphones ids={[...new Set(channel.feeds.map((f) => f.mic))]} />
    </section>
  );
}

/** A piece's own loudness, the figure by which pieces are compared. */
function PieceLevel({ piece }: { piece: string }) {
  const { figure, measuring } = useFigure({ kind: 'piece', piece });
  if (!figure || figure.db === null) return null;
  return (
    <span
      className={`num text-tiny ${measuring ? 'text-faint' : 'text-soft'}`}
      title="Mean of all takes that sound at velocity 100, K-weighted over 300 ms, before the channel"
      data-testid="piece-level"
    >
      {decibels(figure.db)} dB at 100
    </span>
  );
}

const MARK = 'tag w-7 py-0.5 text-center aria-pressed:border-ink aria-pressed:bg-ink aria-pressed:text-card';

/** Settings of microphones that apply everywhere: polarity and mute. */
function Microphones({ ids }: { ids: string[] }) {
  const kit = useKit((s) => s.kit) as KitState;
  const edit = useKit((s) => s.edit);
  const mics = ids.map((id) => kit.head.mics.find((mic) => mic.id === id)).filter((mic) => mic !== undefined);
  if (!mics.length) return null;
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-1 border-t border-line pt-1.5 text-small">
      {mics.map(({ id, name, inverted = false, muted = false }) => (
        <span key={id} className="flex items-center gap-1">
          <span className="min-w-0 grow truncate">
            {name} <span className="text-faint">whole kit</span>
          </span>
          <button
            type="button"
            aria-pressed={inverted}
            aria-label={`Ø: flip polarity of ${name}`}
            title="Flip polarity"
            className={MARK}
            onClick={() => void edit({ kind: 'flip_polarity', mic: id })}
          >
            Ø
          </button>
          <button
            type="button"
            aria-pressed={muted}
            aria-label={`Mute ${name} everywhere`}
            title="Mute it in every channel"
            className={MARK}
            onClick={() => void edit({ kind: 'set_mic', mic: id, muted: !muted })}
          >
            M
          </button>
        </span>
      ))}
    </div>
  );
}

/** Bleed and other microphones that do not feed this channel yet. */
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
      label="Add microphone"
      value=""
      options={[
        { value: '', name: 'Add microphone…' },
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
