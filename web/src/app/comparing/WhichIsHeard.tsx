/** In the strike bar of every step: whether A or B is heard, and a switch to the other. */
import { changeSides, heardNow, useComparing } from './comparing';

export function WhichIsHeard() {
  const comparing = useComparing();
  if (!comparing.other) return null;
  const now = heardNow(comparing);
  return (
    <button
      type="button"
      className="rounded-lg border border-foot-line px-2.5 py-1 text-small whitespace-nowrap hover:bg-foot-line disabled:opacity-50"
      disabled={!comparing.table}
      title="Switch between A and B (X)"
      data-testid="hearing"
      onClick={changeSides}
    >
      hearing <b className="num">{now}</b>
    </button>
  );
}
