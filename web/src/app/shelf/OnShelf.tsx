/** Below the cards of a saved kind: save another one, and restore the last deleted one. */
import type { ShelfKind, ValueOf } from '../../api/calls';
import { AsksName } from '../../ui/AsksName';
import type { Shelf } from './shelf';

interface KeepAsProps<K extends ShelfKind> {
  shelf: Shelf<K>;
  /** The label of the name field. */
  label: string;
  /** The text of the button. */
  says: string;
  /** The value to save; null if there is none. */
  value: ValueOf<K> | null;
}

export function KeepAs<K extends ShelfKind>({ shelf, label, says, value }: KeepAsProps<K>) {
  return (
    <AsksName
      label={label}
      says={says}
      disabled={value === null}
      onName={(name) => {
        if (value !== null) void shelf.asking(() => shelf.keep(name, value));
      }}
    />
  );
}

export function BringBack<K extends ShelfKind>({ shelf }: { shelf: Shelf<K> }) {
  if (!shelf.gone) return null;
  return (
    <p role="status" className="flex justify-between gap-2 rounded-lg bg-plum-wash px-2.5 py-1.5 text-small">
      {shelf.gone.said}
      <button type="button" className="link" onClick={() => void shelf.asking(shelf.bringBack)}>
        Restore
      </button>
    </p>
  );
}
