/** What is done to all lanes at once: another bus, all treatment passed by, plans. */
import type { KitState } from '../../api/calls';
import { useKit } from '../../app/kit/kitStore';
import { AsksName } from '../../ui/AsksName';
import { PlanMenu } from './host/PlanMenu';

export function OverLanes() {
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
          title="Several channels are sent into a bus, treated there together, and go on from there"
          onName={(name) => void edit({ kind: 'make_bus', name })}
        />
      )}
      <button
        type="button"
        className="btn px-2"
        aria-pressed={!kit.head.treated}
        title="Let all sound pass by all treatment; what was set is kept"
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
