/** Several lanes at once: what is chosen, what happens to them together, and groups that last. */
import type { Channel, KitState } from '../../api/calls';
import { useKit } from '../../app/kit/kitStore';
import { lanesOf } from '../../app/kit/lanes';
import { useChosen } from './together';

const names = (channels: readonly Channel[]) => {
  const all = channels.map((channel) => channel.name);
  return all.length > 1 ? `${all.slice(0, -1).join(', ')} and ${all.at(-1)}` : (all[0] ?? '');
};

export function LanesTogether({ open }: { open: Channel }) {
  const kit = useKit((s) => s.kit) as KitState;
  const edit = useKit((s) => s.edit);
  const channels = lanesOf(kit);
  const chosen = useChosen((s) => s.ids);
  const several = channels.filter((channel) => chosen.includes(channel.id));
  const ids = kit.head.groups.find((group) => group.includes(open.id)) ?? [];
  const group = channels.filter((channel) => ids.includes(channel.id));
  const isGroup = group.length === several.length && group.every((channel) => chosen.includes(channel.id));
  if (several.length < 2 && !group.length) return null;
  return (
    <section
      className="grid gap-1.5 rounded-xl border border-line bg-card p-2.5 text-small"
      aria-label="Lanes together"
    >
      {several.length > 1 && (
        <>
          <h2 className="text-[14px]">{several.length} lanes together</h2>
          <p>{names(several)}: their levels move and keep their distances; pan, mute and output become the same.</p>
        </>
      )}
      {group.length > 0 && !isGroup && <p>{names(group)} are a group: their levels keep their distances.</p>}
      <span className="flex flex-wrap gap-x-3 gap-y-1">
        {several.length > 1 && !isGroup && (
          <button
            type="button"
            className="link"
            onClick={() => void edit({ kind: 'group_channels', channels: several.map((channel) => channel.id) })}
          >
            Make them a group
          </button>
        )}
        {group.length > 0 && (
          <button
            type="button"
            className="link"
            onClick={() => void edit({ kind: 'take_group_apart', channel: open.id })}
          >
            Take the group apart
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
