/** Says that the studio does not answer, or has no room, and what becomes of the work meanwhile. */
import { useKeeping } from '../../ui/gestures';
import { count } from '../kit/format';

export function Away() {
  const away = useKeeping((s) => s.away);
  const waiting = useKeeping((s) => s.waiting);
  if (!away) return null;
  const made = waiting
    ? `${count(waiting, 'edit')} ${waiting === 1 ? 'waits and is' : 'wait and are'} made when ${away === 'full' ? 'there is' : 'it is back'}.`
    : 'What you do now waits for it.';
  return (
    <div role="alert" data-testid="away" className="bg-amber-wash px-4 py-1.5 text-center text-small text-ink">
      {away === 'full'
        ? `There is no room left where the studio keeps its data: make room. ${made}`
        : `The studio does not answer. What is loaded plays on, everything saved is safe. ${made}`}
    </div>
  );
}
