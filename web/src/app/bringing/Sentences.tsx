/** What will change, one sentence each, with a sign beside warnings. */
import { Check, TriangleAlert } from 'lucide-react';
import type { Consequence } from '../../api/calls';

export function Sentences({ label, all }: { label: string; all: readonly Consequence[] }) {
  return (
    <ul aria-label={label} className="grid gap-1.5">
      {all.map(({ said, warns }) => (
        <li key={said} className="flex gap-2">
          {warns ? (
            <TriangleAlert size={14} className="mt-0.5 shrink-0 text-amber" aria-label="Check this" />
          ) : (
            <Check size={14} className="mt-0.5 shrink-0 text-leaf" aria-hidden="true" />
          )}
          {said}
        </li>
      ))}
    </ul>
  );
}
