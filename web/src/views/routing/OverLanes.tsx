/** What is done to all lanes at once: another bus, all treatment passed by, plans. */
import type { KitState } from '../../api/calls';
import { useKit } from '../../app/kitStore';
import { useStandIns } from '../../app/StrikeBar';
import { AsksName } from '../../ui/AsksName';

export function OverLanes() {
  const kit = useKit((s) => s.kit) as KitState;
  const edit = useKit((s) => s.edit);
  const { data } = useStandIns();
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
      {data?.plans.map((plan, place) => (
        <button
          key={plan.id}
          type="button"
          className={`btn px-2 ${place === 0 ? 'btn-go' : ''}`}
          disabled={!channels.length}
          onClick={() => void edit({ kind: 'apply_plan', plan: plan.id })}
          title={
            place === 0
              ? 'Kick, snare, hats, toms, cymbals, percussion, overheads and room on outputs 2 to 9'
              : undefined
          }
        >
          {plan.name}
        </button>
      ))}
    </>
  );
}
