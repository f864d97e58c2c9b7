/** Bringing in several pieces at once: what comes along, where each goes, and what that changes. */
import { Play } from 'lucide-react';
import type { SeveralShown } from '../../api/calls';
import { decibels } from '../kit/format';
import { askTogether, strikeIt, type Together, useBringPiece } from './bringing';
import { Sentences } from './Sentences';
import { Way } from './Way';

const ALONG: [keyof Together, string][] = [
  ['treatment', 'their treatments'],
  ['touch', 'their velocity curves and tracking'],
  ['balance', 'their levels, pans and sends'],
];

export function ComeTogether({ shown }: { shown: SeveralShown }) {
  const together = useBringPiece((s) => s.together);
  return (
    <section
      aria-label="What comes with them"
      className="grid min-h-0 content-start gap-3.5 overflow-y-auto rounded-[14px] border border-line p-3.5"
    >
      <h2 className="text-[16px]">{shown.taken.length} pieces</h2>
      <ul aria-label="Pieces that come" className="grid gap-px">
        {shown.taken.map((each) => (
          <li key={each.piece} className="flex items-center gap-2.5 border-b border-line py-1">
            <button
              type="button"
              className="grid size-7 shrink-0 place-items-center rounded-md text-soft hover:bg-sunk hover:text-ink"
              aria-label={`Strike ${each.name}`}
              onClick={() => strikeIt(each.piece)}
            >
              <Play size={13} />
            </button>
            <span className="min-w-0 grow truncate">
              <b className="font-semibold">{each.name}</b>
              {each.instead_of && <span className="text-faint"> replaces {each.instead_of}</span>}
            </span>
            <span className="num text-faint">
              {each.gain_db ? `${each.gain_db > 0 ? '+' : ''}${decibels(each.gain_db)} dB` : each.of}
            </span>
          </li>
        ))}
      </ul>
      <div className="grid gap-0.5">
        <h3 className="head">Also bring</h3>
        {ALONG.map(([field, says]) => (
          <Ticked key={field} field={field} says={says} together={together} />
        ))}
      </div>
      <p className="text-small text-soft">
        All articulations and microphones come with them; choose a single piece to change that.
      </p>
    </section>
  );
}

function Ticked({ field, says, together }: { field: keyof Together; says: string; together: Together }) {
  return (
    <label className="flex items-center gap-2.5 py-0.5">
      <input
        type="checkbox"
        checked={together[field] === true}
        onChange={(event) => void askTogether({ [field]: event.target.checked })}
      />
      {says}
    </label>
  );
}

export function WhereTheyGo({ shown, looking }: { shown: SeveralShown; looking: boolean }) {
  const together = useBringPiece((s) => s.together);
  const ways = [
    [false, 'Add as new pieces', 'Each on free notes.'],
    [
      true,
      'Replace pieces of the same family',
      'The first tom replaces our first tom, and so on; any left over become new pieces.',
    ],
  ] as const;
  return (
    <>
      <div className="grid gap-2" role="radiogroup" aria-label="How they are added">
        <h2 className="head">How they are added</h2>
        {ways.map(([in_places, says, aside]) => (
          <Way
            key={says}
            chosen={together.in_places === in_places}
            says={says}
            aside={aside}
            onChoose={() => void askTogether({ in_places })}
          />
        ))}
        {together.in_places && (
          <Ticked field="as_loud" says="match loudness with what each replaces" together={together} />
        )}
      </div>
      <div className={`mt-4 grid gap-3 ${looking ? 'opacity-60' : ''}`} aria-live="polite">
        <h2 className="head">Result</h2>
        {shown.taken.map((each) => (
          <section key={each.piece} aria-label={`Result for ${each.name}`}>
            <h3 className="mb-1 font-semibold">{each.name}</h3>
            <Sentences label={`What will happen with ${each.name}`} all={each.consequences} />
          </section>
        ))}
        <Sentences label="What will happen" all={shown.consequences} />
      </div>
    </>
  );
}
