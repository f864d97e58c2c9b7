/** Pieces between the library and kits: copied, pasted, and brought into a kit. */
import { useEffect } from 'react';
import { useNavigate } from 'react-router';
import type { Entry } from '../../api/calls';
import { carriedBy, carry, carryInto, copies, copyLooked, keptInLibrary } from '../../app/importing/carrying';
import { useRecentKits } from '../../app/kit/recentKits';
import { Actions } from '../../ui/Actions';
import { type Thing, useChosen } from './chosen';
import { tell } from './doing';

const carriedOf = ({ kind, id, name }: Thing) =>
  kind === 'pieces' ? { source: { kind: 'pieces' as const, id, piece: '' }, name } : null;

export function useCarriedToLibrary() {
  useEffect(() => {
    const copy = (event: ClipboardEvent) => {
      const transfer = copies(event);
      const { looked } = useChosen.getState();
      const carried = looked && carriedOf(looked);
      if (!transfer || !carried || window.getSelection()?.toString()) return;
      event.preventDefault();
      carry(transfer, carried);
      tell(`${carried.name} was copied: paste it into a kit.`);
    };
    const paste = (event: ClipboardEvent) => {
      const carried = carriedBy(copies(event));
      if (!carried) return;
      event.preventDefault();
      if (carried.source.kind !== 'kits') return tell(`${carried.name} is in the library already.`);
      keptInLibrary(carried.source, carried.name)
        .then((name) => tell(`${name} was saved to the library.`))
        .catch((error: Error) => tell(error.message, true));
    };
    window.addEventListener('copy', copy);
    window.addEventListener('paste', paste);
    return () => {
      window.removeEventListener('copy', copy);
      window.removeEventListener('paste', paste);
    };
  }, []);
}

/** Opens a kit and previews what bringing the saved piece in would do. */
export function TakeInto({ entry }: { entry: Entry }) {
  const navigate = useNavigate();
  const kits = useRecentKits() ?? [];
  const carried = carriedOf(entry);
  if (!carried) return null;
  return (
    <>
      <Actions
        label={`Add ${entry.name} to a kit`}
        className="btn btn-go"
        actions={kits.map(({ id, name }) => ({
          name,
          onChoose: () => {
            carryInto(id, carried);
            navigate(`/kits/${id}/layers`);
          },
        }))}
      >
        Add to a kit
      </Actions>
      <button type="button" className="btn" title="Ctrl+C; paste it into a kit" onClick={() => copyLooked()}>
        Copy
      </button>
    </>
  );
}
