/** A menu of saved and shipped items: apply, save, delete. */
import { ChevronDown } from 'lucide-react';
import type { ReactNode } from 'react';
import type { CardOf, ShelfKind, ValueOf } from '../../api/calls';
import { Panel } from '../../ui/Panel';
import { BringBack, KeepAs } from './OnShelf';
import { useShelf } from './shelf';

interface ShelfMenuProps<K extends ShelfKind> {
  kind: K;
  /** The button's text, and the menu's accessible name. */
  name: string;
  label: string;
  /** The label of the name field. */
  nameOf: string;
  says: (card: CardOf<K>) => string | undefined;
  onPut: (card: CardOf<K>) => void;
  /** The value to save; null if there is none. */
  value: ValueOf<K> | null;
  children?: (close: () => void) => ReactNode;
}

export function ShelfMenu<K extends ShelfKind>(props: ShelfMenuProps<K>) {
  const { kind, name, label, nameOf, says, onPut, value, children } = props;
  const shelf = useShelf(kind);
  return (
    <Panel
      label={label}
      buttonClass="btn px-2 py-0.5"
      button={
        <>
          {name} <ChevronDown size={13} aria-hidden="true" />
        </>
      }
      className="grid w-[330px] gap-1 p-2.5"
    >
      {(close) => (
        <>
          <ul className="grid gap-0.5">
            {shelf.cards.map((card) => (
              <li key={card.id} className="flex items-center gap-1">
                <button
                  type="button"
                  className="grid min-w-0 grow rounded-lg px-2 py-1 text-left hover:bg-sunk"
                  onClick={() => {
                    onPut(card);
                    close();
                  }}
                >
                  <span className="font-semibold">{card.name}</span>
                  {says(card) && <span className="text-tiny text-soft">{says(card)}</span>}
                </button>
                {card.ours && (
                  <button
                    type="button"
                    className="link text-tiny"
                    aria-label={`Delete ${card.name}`}
                    onClick={() => void shelf.asking(() => shelf.remove(card))}
                  >
                    Delete
                  </button>
                )}
              </li>
            ))}
          </ul>
          <BringBack shelf={shelf} />
          <KeepAs shelf={shelf} label={nameOf} says="Save this one as…" value={value} />
          {children?.(close)}
        </>
      )}
    </Panel>
  );
}
