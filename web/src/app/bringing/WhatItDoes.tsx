/**
 * What the piece does here: replaces another, is layered with one, or is added; at which level; and what that changes.
 */
import type { BringShown } from '../../api/calls';
import { Pick } from '../../ui/Pick';
import { decibels } from '../kit/format';
import { useKit } from '../kit/kitStore';
import { ask, type How, setHow, useBringPiece } from './bringing';
import { Climbs } from './Climbs';
import { OnNotes } from './OnNotes';
import { Sentences } from './Sentences';
import { Way } from './Way';

const WAYS: [How, (name: string) => string, string][] = [
  ['place', (name) => `Replace ${name}`, 'Our level, pan, sends, output, notes and chokes stay.'],
  ['together', (name) => `Layer with ${name}`, 'On the same notes: one strike plays both.'],
  ['own', () => 'Add as a new piece', 'On free notes.'],
];

export function Where() {
  const { how, beside, shown, asked } = useBringPiece();
  const order = useKit((s) => s.kit?.order) ?? [];
  const pieces = useKit((s) => s.pieces);
  const name = pieces.get(beside)?.name ?? pieces.get(order[0] ?? '')?.name ?? '';
  const ways = order.length ? WAYS : WAYS.slice(2);
  return (
    <div className="grid gap-2" role="radiogroup" aria-label="How it is added">
      <h2 className="head">How it is added</h2>
      {ways.map(([way, says, aside]) => (
        <Way key={way} chosen={how === way} says={says(name)} aside={aside} onChoose={() => void setHow(way)} />
      ))}
      {how !== 'own' && (
        <Pick
          label="Piece"
          value={beside || (order[0] ?? '')}
          options={order.map((id) => ({ value: id, name: pieces.get(id)?.name ?? id }))}
          onChange={(id) => void setHow(how, id)}
          className="justify-self-start"
        />
      )}
      {how === 'own' && shown && <OnNotes shown={shown} />}
      {shown !== null && shown.lost.length > 0 && (
        <label className="flex items-center gap-2.5 text-small">
          <input
            type="checkbox"
            checked={asked?.rest_to_main === true}
            onChange={(event) => void ask({ rest_to_main: event.target.checked })}
          />
          Articulations it lacks play its main one
        </label>
      )}
    </div>
  );
}

export function AsLoud({ shown }: { shown: BringShown }) {
  const { how, asked, beside } = useBringPiece();
  const called = useKit((s) => s.pieces.get(beside)?.name) ?? '';
  if (how === 'own') return null;
  const name = called === shown.name ? `our ${called}` : called;
  const { theirs_db: theirs, its_db: its, gain_db: gain } = shown;
  const known = theirs !== null && its !== null;
  return (
    <div className="mt-4 grid gap-1.5">
      <label className="flex items-center gap-2.5">
        <input
          type="checkbox"
          checked={asked?.as_loud !== false}
          disabled={!known}
          onChange={(event) => void ask({ as_loud: event.target.checked })}
        />
        <span className="grow font-semibold">Match loudness</span>
        {known && <span className="num font-semibold">{`${gain > 0 ? '+' : ''}${decibels(gain)} dB`}</span>}
      </label>
      {known && <Climbs shown={shown} ours={name} />}
      <p className="text-small text-soft">
        {known
          ? `${name.charAt(0).toUpperCase()}${name.slice(1)} ${decibels(theirs)} dB, ${shown.name} ${decibels(its)} dB at velocity 100`
          : 'One of them makes no sound at velocity 100.'}
      </p>
    </div>
  );
}

export function So({ shown, looking }: { shown: BringShown; looking: boolean }) {
  return (
    <div className={`mt-4 grid gap-1.5 ${looking ? 'opacity-60' : ''}`} aria-live="polite">
      <h2 className="head">Result</h2>
      <Sentences label="What will happen" all={shown.consequences} />
    </div>
  );
}
