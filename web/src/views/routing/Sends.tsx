/** A channel's sends: small on its strip, complete beside the open channel. */
import type { Channel, KitState } from '../../api/calls';
import { useChannel } from '../../app/kit/desk';
import { minus, signed } from '../../app/kit/format';
import { useKit } from '../../app/kit/kitStore';
import { Fader } from '../../ui/Fader';
import { Pick } from '../../ui/Pick';
import { addSend, busesFor, keepSend, removeSend, type Send, setPreFader, turnSend } from './sending';

/** As many as fit on a strip; the others are beside the open channel. */
const ON_A_CHANNEL = 2;

const busName = (buses: readonly Channel[], send: Send) => buses.find((bus) => bus.id === send.bus)?.name ?? send.bus;

function SendLevel({ channel, send, name, small }: { channel: Channel; send: Send; name: string; small?: boolean }) {
  return (
    <Fader
      {...(small ? { name } : {})}
      label={`${channel.name} into ${name}`}
      value={send.level_db}
      show={small ? (db) => minus(`${Math.round(db)}`) : signed}
      late
      onTurn={(level_db) => turnSend(channel.id, send.bus, level_db)}
      onChange={(level_db, gesture) => keepSend(channel.id, send.bus, level_db, gesture)}
    />
  );
}

export function SendsOnChannel({ channel }: { channel: Channel }) {
  const buses = useKit((s) => (s.kit as KitState).head.buses);
  const more = channel.sends.length - ON_A_CHANNEL;
  return (
    <span className="flex min-w-0 items-center gap-2">
      {channel.sends.slice(0, ON_A_CHANNEL).map((send) => (
        <span key={send.bus} className="min-w-0 flex-1">
          <SendLevel channel={channel} send={send} name={busName(buses, send)} small />
        </span>
      ))}
      {more > 0 && <span className="num text-tiny text-faint">+{more}</span>}
    </span>
  );
}

/** All sends of a channel, and a list to add one. */
export function Sends({ channel: kept }: { channel: Channel }) {
  const kit = useKit((s) => s.kit) as KitState;
  const channel = useChannel(kept);
  const free = busesFor(kit, channel).filter((bus) => channel.sends.every((send) => send.bus !== bus.id));
  if (!kit.head.buses.length) return null;
  return (
    <section className="grid grid-cols-[minmax(0,1fr)] gap-1.5" aria-label={`Sends of ${channel.name}`}>
      <h2 className="head">Sends</h2>
      {channel.sends.map((send) => {
        const name = busName(kit.head.buses, send);
        return (
          <div key={send.bus} className="grid grid-cols-[minmax(0,1fr)] gap-1">
            <span className="flex items-center justify-between gap-2 text-small">
              <span className="min-w-0 truncate">{name}</span>
              <span className="flex items-center gap-2">
                <button
                  type="button"
                  className="link text-tiny"
                  aria-pressed={send.pre_fader}
                  title="Pre-fader: not affected by the channel’s level and pan"
                  onClick={() => setPreFader(channel.id, send, !send.pre_fader)}
                >
                  {send.pre_fader ? 'pre-fader' : 'post-fader'}
                </button>
                <button
                  type="button"
                  className="link text-tiny"
                  aria-label={`Remove the send to ${name}`}
                  onClick={() => removeSend(channel.id, send.bus)}
                >
                  Remove
                </button>
              </span>
            </span>
            <SendLevel channel={channel} send={send} name={name} />
          </div>
        );
      })}
      {free.length > 0 && (
        <Pick
          label="Add send to"
          value=""
          options={[{ value: '', name: 'Add send…' }, ...free.map((bus) => ({ value: bus.id, name: bus.name }))]}
          onChange={(bus) => bus && addSend(channel.id, bus)}
        />
      )}
    </section>
  );
}
