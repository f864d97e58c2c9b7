/** Applies a plan in two presses, and routes everything to main in one. */
import { ChevronDown } from 'lucide-react';
import type { KitState } from '../../../api/calls';
import { useKit } from '../../../app/kit/kitStore';
import { Panel } from '../../../ui/Panel';
import { usePlans } from './plans';

export function PlanMenu() {
  const kit = useKit((s) => s.kit) as KitState;
  const edit = useKit((s) => s.edit);
  const { shelf, apply } = usePlans();
  if (!kit.head.channels.length) return null;
  return (
    <Panel
      label="Plans"
      buttonClass="btn btn-go px-2"
      button={
        <>
          Route by plan <ChevronDown size={13} aria-hidden="true" />
        </>
      }
      className="grid w-[280px] gap-1 p-2.5"
    >
      {(close) => (
        <>
          <ul className="grid gap-0.5">
            {shelf.cards.map((card) => (
              <li key={card.id}>
                <button
                  type="button"
                  className="flex w-full justify-between gap-2 rounded-lg px-2 py-1.5 text-left hover:bg-sunk"
                  onClick={() => {
                    close();
                    void apply(card);
                  }}
                >
                  <span className="font-semibold">{card.name}</span>
                  {card.ours && <span className="text-tiny text-faint">yours</span>}
                </button>
              </li>
            ))}
          </ul>
          <button
            type="button"
            className="btn justify-self-start"
            onClick={() => {
              close();
              void edit({ kind: 'clear_outputs' });
            }}
          >
            Clear outputs
          </button>
        </>
      )}
    </Panel>
  );
}
