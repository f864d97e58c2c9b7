/** Actions on all channels: add a bus, bypass all treatments, routing plans. */
import type { KitState } from '../../api/calls';
import { useKit } from '../../app/kit/kitStore';
import { AsksName } from '../../ui/AsksName';
import { PlanMenu } from './host/PlanMenu';
import { useChosen } from './together';

export function ChannelsToolbar() {
  const kit = useKit((s) => s.kit) as KitState;
  const edit = useKit((s) => s.edit);
  const { channels } = kit.head;
  /** The new bus goes where the open channel goes; it is selected and scrolled to. */
  const addBus = async (name: string) => {
    const before = new Set(kit.head.buses.map(({ id }) => id));
    const like = useChosen.getState().ids.at(-1) ?? '';
    if (await edit({ kind: 'make_bus', name, like })) return;
    const made = useKit.getState().kit?.head.buses.find(({ id }) => !before.has(id));
    if (!made) return;
    useChosen.setState({ ids: [made.id] });
    requestAnimationFrame(() =>
      document.querySelector(`[data-channel="${CSS.escape(made.id)}"]`)?.scrollIntoView({ block: 'nearest' }),
    );
  };
  return (
    <>
      {channels.length > 0 && (
        <AsksName
          label="Name of the bus"
          says="Add a bus"
          className="btn px-2"
          title="A bus mixes several channels and treats them together"
          onName={(name) => void addBus(name)}
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
