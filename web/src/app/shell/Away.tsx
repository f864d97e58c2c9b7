/** Says that the studio does not respond or has no room, and what happens to the work meanwhile. */
import { useKeeping } from '../../ui/gestures';
import { count } from '../kit/format';

export function Away() {
  const away = useKeeping((s) => s.away);
  const waiting = useKeeping((s) => s.waiting);
  if (!away) return null;
  const made = waiting
    ? `${count(waiting, 'edit')} will be saved when ${away === 'full' ? 'there is space' : 'it is back'}.`
    : 'What you change now is saved then.';
  return (
    <div role="alert" data-testid="away" className="bg-amber-wash px-4 py-1.5 text-center text-small text-ink">
      {away === 'full'
        ? `The disk is full: free some space. ${made}`
        : `The studio is not responding. Loaded sounds still play, and everything saved is safe. ${made}`}
    </div>
  );
}
