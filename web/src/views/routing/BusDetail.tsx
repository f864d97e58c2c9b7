/** The selected bus: its name and position, its inputs, and deleting it. */
import type { Channel, KitState } from '../../api/calls';
import { channelsOf } from '../../app/kit/channels';
import { signed } from '../../app/kit/format';
import { useKit } from '../../app/kit/kitStore';
import { AsksName } from '../../ui/AsksName';
import { sendInto } from './sending';

export function BusDetail({ bus }: { bus: Channel }) {
  const kit = useKit((s) => s.kit) as KitState;
  const edit = useKit((s) => s.edit);
  const feeders = channelsOf(kit).filter((channel) => channel.bus === bus.id || sendInto(channel, bus.id));
  const place = kit.head.buses.findIndex((each) => each.id === bus.id);
  const move = (to: number) => void edit({ kind: 'move_bus', bus: bus.id, to });
  return (
    <section className="grid grid-cols-[minmax(0,1fr)] gap-2">
      <h2 className="head">Inputs</h2>
      <span className="flex flex-wrap items-center justify-between gap-x-2">
        <h2 className="min-w-0 truncate text-[15px]">
          {bus.name} <span className="font-normal text-faint">bus</span>
        </h2>
        <AsksName
          label="Name of the bus"
          says="Rename"
          value={bus.name}
          className="link text-tiny"
          onName={(name) => void edit({ kind: 'name_bus', bus: bus.id, name })}
        />
      </span>
      <ul className="grid grid-cols-[minmax(0,1fr)] gap-0.5 text-small">
        {feeders.map((channel) => {
          const send = sendInto(channel, bus.id);
          return (
            <li key={channel.id} className="flex justify-between gap-2">
              <span className="min-w-0 truncate">{channel.name}</span>
              <span className="num text-soft">
                {send ? `${signed(send.level_db)} dB${send.pre_fader ? ', pre-fader' : ''}` : 'its whole output'}
              </span>
            </li>
          );
        })}
      </ul>
      {feeders.length === 0 && (
        <p className="text-small text-soft">No inputs yet: open a channel and send it to {bus.name}.</p>
      )}
      <span className="flex flex-wrap gap-x-3 gap-y-1 text-small">
        <button type="button" className="link" disabled={place < 1} onClick={() => move(place - 1)}>
          Move up
        </button>
        <button
          type="button"
          className="link"
          disabled={place >= kit.head.buses.length - 1}
          onClick={() => move(place + 1)}
        >
          Move down
        </button>
        <button type="button" className="link" onClick={() => void edit({ kind: 'remove_bus', bus: bus.id })}>
          Delete {bus.name}
        </button>
      </span>
    </section>
  );
}
