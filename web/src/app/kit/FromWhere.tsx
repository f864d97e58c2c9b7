/** Where a piece came from and what changed there since; a newer version is offered, never applied by itself. */
import { useQuery } from '@tanstack/react-query';
import { get } from '../../api/calls';
import { lookAtPiece, openBringPiece } from '../bringing/bringing';
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
  const from = origin.kind === 'pieces' ? `the library, saved from ${origin.name}` : origin.name;
  const source = { kind: origin.kind as 'kits' | 'sessions' | 'pieces', id: origin.id, piece: origin.piece };
  const look = () => {
    openBringPiece('place', piece, { find: origin.name });
    void lookAtPiece({ source });
  };
  return (
    <section aria-label="Origin" className="grid gap-1 rounded-[10px] bg-plum-wash px-3 py-2 text-small">
      <p>
        From {from}
        {origin.instead_of ? `, replacing ${origin.instead_of}` : ''}.{there ? '' : ' The original no longer exists.'}
      </p>
      {changed.length > 0 && (
        <>
          <p>Changed there since: {changed.join('; ')}.</p>
          <button type="button" className="link justify-self-start" onClick={look}>
            Show the newer version
          </button>
        </>
      )}
    </section>
  );
}
