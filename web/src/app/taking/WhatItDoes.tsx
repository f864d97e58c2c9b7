/** What a piece does here: in another's place, together with one or by itself; how loud; and all of it in sentences. */
import type { TakingShown } from '../../api/calls';
import { Pick } from '../../ui/Pick';
import { decibels } from '../kit/format';
import { useKit } from '../kit/kitStore';
import { Climbs } from './Climbs';
import { OnNotes } from './OnNotes';
import { Sentences } from './Sentences';
import { ask, type How, setHow, useTaking } from './taking';
import { Way } from './Way';

const WAYS: [How, (name: string) => string, string][] = [
  ['place', (name) => `Takes ${name}’s place`, 'Our level, pan, sends, output, notes and chokes stay.'],
  ['together', (name) => `Sounds together with ${name}`, 'On every note it has: two pieces, one strike.'],
  ['own', () => 'Becomes a piece of its own', 'On notes that are free.'],
];

export function Where() {
  const { how, beside, shown, asked } = useTaking();
  const order = useKit((s) => s.kit?.order) ?? [];
  const pieces = useKit((s) => s.pieces);
  const name = pieces.get(beside)?.name ?? pieces.get(order[0] ?? '')?.name ?? '';
  const ways = order.length ? WAYS : WAYS.slice(2);
  return (
    <div className="grid gap-2" role="radiogroup" aria-label="What it does here">
      <h2 className="head">What it does here</h2>
      {ways.map(([way, says, aside]) => (
        <Way key={way} chosen={how === way} says={says(name)} aside={aside} onChoose={() => void setHow(way)} />
      ))}
      {how !== 'own' && (
        <Pick
          label="The piece it is about"
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
          Notes of strokes it has not play its main stroke
        </label>
      )}
    </div>
  );
}

export function AsLoud({ shown }: { shown: TakingShown }) {
  const { how, asked, beside } = useTaking();
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
        <span className="grow font-semibold">Equally loud</span>
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

export function So({ shown, looking }: { shown: TakingShown; looking: boolean }) {
  return (
    <div className={`mt-4 grid gap-1.5 ${looking ? 'opacity-60' : ''}`} aria-live="polite">
      <h2 className="head">So</h2>
      <Sentences label="What will happen" all={shown.consequences} />
    </div>
  );
}
