/** Where a piece was taken from, and what changed there since: the newer one is offered, and never taken by itself. */
import { useQuery } from '@tanstack/react-query';
import { get } from '../../api/calls';
import { lookAtPiece, openTaking } from '../taking/taking';
import { useKit } from './kitStore';

export function FromWhere({ piece }: { piece: string }) {
  const kit = useKit((s) => s.kit?.id) as string;
  const version = useKit((s) => s.kit?.version);
  const { data } = useQuery({
    queryKey: ['origins', kit, version],
    queryFn: () => get('/api/kits/{kit_id}/origins', { kit_id: kit }),
    placeholderData: (before) => before,
  });
  const found = data?.find((each) => each.piece === piece);
  if (!found) return null;
  const { origin, there, changed } = found;
  const from = origin.kind === 'pieces' ? `the library, kept from ${origin.name}` : origin.name;
  const source = { kind: origin.kind as 'kits' | 'sessions' | 'pieces', id: origin.id, piece: origin.piece };
  const look = () => {
    openTaking('place', piece, { find: origin.name });
    void lookAtPiece({ source });
  };
  return (
    <section aria-label="Where it came from" className="grid gap-1 rounded-[10px] bg-plum-wash px-3 py-2 text-small">
      <p>
        Taken from {from}
        {origin.instead_of ? `, in the place of ${origin.instead_of}` : ''}.{there ? '' : ' It is not there any more.'}
      </p>
      {changed.length > 0 && (
        <>
          <p>Changed there since: {changed.join('; ')}.</p>
          <button type="button" className="link justify-self-start" onClick={look}>
            Look at the newer one
          </button>
        </>
      )}
    </section>
  );
}
