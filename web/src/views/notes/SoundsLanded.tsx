/** Sounds being put on notes, where they were put, and which could not be read. */
import { useImporting } from '../../app/importing/importing';
import { useSingleSounds } from '../../app/importing/singleSounds';
import { useKit } from '../../app/kit/kitStore';
import { PlayGroove } from '../../app/playing/PlayGroove';

export function SoundsLanded() {
  const going = useImporting((s) => s.going);
  const came = useImporting((s) => s.came);
  const landed = useSingleSounds((s) => s.landed);
  const undo = useKit((s) => s.undo);
  if (going) {
    return (
      <p className="card flex shrink-0 items-center gap-3 py-2" role="status">
        Adding {going.name} in
        <progress className="grow accent-[var(--zest)]" value={going.done} max={going.total} />
      </p>
    );
  }
  const refused = came?.refused.map(({ why }) => why) ?? [];
  const left = [...new Set([...refused, ...(landed?.left ?? [])])];
  if (!landed && !left.length) return null;
  const close = () => {
    useSingleSounds.setState({ landed: null });
    useImporting.getState().forget();
  };
  return (
    <div
      role={left.length ? 'alert' : 'status'}
      data-testid="landed"
      className={`flex shrink-0 flex-wrap items-center gap-3 rounded-xl px-3.5 py-1.5 ${left.length ? 'bg-amber-wash' : 'bg-leaf-wash'}`}
    >
      <span className="min-w-0 grow">
        {landed ? `${landed.said}.` : ''} {left.slice(0, 3).join(' ')}
        {left.length > 3 ? ` And ${left.length - 3} more like these.` : ''}
      </span>
      {landed && (
        <>
          <PlayGroove className="btn px-2 py-0.5" />
          <button
            type="button"
            className="link"
            onClick={() => {
              close();
              void undo();
            }}
          >
            Undo
          </button>
        </>
      )}
      <button type="button" className="link" onClick={close}>
        Close
      </button>
    </div>
  );
}
