/**
 * Which side of its output the open channel uses: both, or one, so that two mono channels can share a stereo output.
 */
import type { Channel, KitState } from '../../api/calls';
import { useKit } from '../../app/kit/kitStore';

const SIDES = { both: 'Both sides', left: 'Left', right: 'Right' } as const;

export function Leaves({ channel }: { channel: Channel }) {
  const kit = useKit((s) => s.kit) as KitState;
  const edit = useKit((s) => s.edit);
  const output = kit.head.outputs.find((each) => each.number === channel.output);
  if (channel.bus || !output || output.width !== 'stereo') return null;
  return (
    <section className="grid grid-cols-[minmax(0,1fr)] gap-1 text-small" aria-label={`Sides of ${channel.name}`}>
      <h2 className="head">
        Output {output.number} {output.name}
      </h2>
      <span className="flex flex-wrap gap-1">
        {(Object.keys(SIDES) as (keyof typeof SIDES)[]).map((side) => (
          <button
            key={side}
            type="button"
            aria-pressed={channel.side === side}
            className="btn px-2 py-0.5 aria-pressed:border-ink aria-pressed:font-semibold"
            onClick={() => void edit({ kind: 'set_channel', channel: channel.id, side })}
          >
            {SIDES[side]}
          </button>
        ))}
      </span>
      {channel.side !== 'both' && <p className="text-soft">It is mono there, so pan has no effect.</p>}
    </section>
  );
}
