/** Several selected channels: shared settings, and channel groups. */
import type { Channel, KitState } from '../../api/calls';
import { channelsOf } from '../../app/kit/channels';
import { useKit } from '../../app/kit/kitStore';
import { useChosen } from './together';

const names = (channels: readonly Channel[]) => {
  const all = channels.map((channel) => channel.name);
  return all.length > 1 ? `${all.slice(0, -1).join(', ')} and ${all.at(-1)}` : (all[0] ?? '');
};

export function SelectedChannels({ open }: { open: Channel }) {
  const kit = useKit((s) => s.kit) as KitState;
  const edit = useKit((s) => s.edit);
  const channels = channelsOf(kit);
  const chosen = useChosen((s) => s.ids);
  const several = channels.filter((channel) => chosen.includes(channel.id));
  const ids = kit.head.groups.find((group) => group.includes(open.id)) ?? [];
  const group = channels.filter((channel) => ids.includes(channel.id));
  const isGroup = group.length === several.length && group.every((channel) => chosen.includes(channel.id));
  if (several.length < 2 && !group.length) return null;
  return (
    <section
      className="grid gap-1.5 rounded-xl border border-line bg-card p-2.5 text-small"
      aria-label="Selected channels"
    >
      {several.length > 1 && (
        <>
          <h2 className="text-[14px]">{several.length} channels selected</h2>
          <p>{names(several)}: levels move together; pan, mute and output become the same.</p>
        </>
      )}
      {group.length > 0 && !isGroup && <p>{names(group)} are grouped: their levels move together.</p>}
      <span className="flex flex-wrap gap-x-3 gap-y-1">
        {several.length > 1 && !isGroup && (
          <button
            type="button"
            className="link"
            onClick={() => void edit({ kind: 'group_channels', channels: several.map((channel) => channel.id) })}
          >
            Group channels
          </button>
        )}
        {group.length > 0 && (
          <button type="button" className="link" onClick={() => void edit({ kind: 'ungroup', channel: open.id })}>
            Ungroup channels
          </button>
        )}
        {several.length > 1 && (
          <button type="button" className="link" onClick={() => useChosen.setState({ ids: [open.id] })}>
            Only {open.name}
          </button>
        )}
      </span>
    </section>
  );
}
