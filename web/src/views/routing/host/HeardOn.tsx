/** The sound card: its channels, and whether outputs use channels of their own. */
import { useEffect } from 'react';
import type { KitState } from '../../../api/calls';
import { useKit } from '../../../app/kit/kitStore';
import { canChoose, chooseApart, listenOn, lookForDevices, useSoundCard } from '../../../app/playing/soundCard';
import { placesOn } from '../../../player/leaving';
import { Pick } from '../../../ui/Pick';

export function HeardOn() {
  const kit = useKit((s) => s.kit) as KitState;
  const player = useKit((s) => s.player);
  const { apart, device, devices, channels } = useSoundCard();
  useEffect(() => {
    if (player) void lookForDevices();
  }, [player]);
  const own = apart ? placesOn(kit.head.outputs, channels).size : 0;
  return (
    <section className="grid gap-1 px-1.5 text-small" aria-label="Live sound on">
      <h2 className="head">Live sound on</h2>
      {canChoose() && devices.length > 1 ? (
        <Pick
          label="Sound card"
          value={device}
          options={[
            { value: '', name: 'The system’s' },
            ...devices.filter(({ id }) => id !== 'default').map(({ id, name }) => ({ value: id, name })),
          ]}
          onChange={(id) => void listenOn(id)}
          className="w-full"
        />
      ) : (
        <b className="font-semibold">The system’s sound card</b>
      )}
      <span className="num text-[11.5px] text-faint">{channels} channels</span>
      {channels > 2 ? (
        <label className="flex items-start gap-1.5">
          <input
            type="checkbox"
            className="mt-[3px]"
            checked={apart}
            onChange={(event) => chooseApart(event.target.checked)}
          />
          <span>
            Separate outputs
            {apart && `: ${own} of ${kit.head.outputs.length} on their own channels, the rest on the first two`}
          </span>
        </label>
      ) : (
        <span className="text-faint">All outputs mixed together.</span>
      )}
    </section>
  );
}
