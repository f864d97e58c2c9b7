/** Actions on all channels: add a bus, bypass all treatments, routing plans. */
import type { KitState } from '../../api/calls';
import { useKit } from '../../app/kit/kitStore';
import { AsksName } from '../../ui/AsksName';
import { PlanMenu } from './host/PlanMenu';

export function ChannelsToolbar() {
  const kit = useKit((s) => s.kit) as KitState;
  const edit = useKit((s) => s.edit);
  const { channels } = kit.head;
  return (
    <>
      {channels.length > 0 && (
        <AsksName
          label="Name of the bus"
          says="Add a bus"
          className="btn px-2"
          title="A bus mixes several channels and treats them together"
          onName={(name) => void edit({ kind: 'make_bus', name })}
        />
      )}
      <button
        type="button"
        className="btn px-2"
        aria-pressed={!kit.head.treated}
        title="Bypass every treatment; settings are kept"
        onClick={() => void edit({ kind: 'bypass_treatment', bypassed: kit.head.treated })}
      >
        <span>
          {kit.head.treated ? 'Bypass all' : 'All'}
          <span className="max-[1420px]:sr-only"> treatment</span>
          {kit.head.treated ? '' : ' bypassed'}
        </span>
      </button>
      <PlanMenu />
    </>
  );
}
