/** What a correction of a column would change, group by group, before it is made. Each group of names is ticked. */
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { type Guidance, type GuidancePreview, post, type Reading } from '../../api/calls';
import { count } from '../../app/kit/format';
import { type Meaning, ruled } from './ruled';

export interface Proposed {
  /** The column's text, as it is shown. */
  text: string;
  /** The meaning in words. */
  says: string;
  meaning: Meaning | null;
  /** The column itself, as its group is called in a correction, then columns of other groups that read alike. */
  places: [string, number][];
  /** The groups of these places, as they are called now. */
  groups: string[];
}

interface CorrectionProps {
  data: Reading;
  proposed: Proposed;
  onApply: (guidance: Guidance) => void;
  onCancel: () => void;
}

export function Correction({ data, proposed, onApply, onCancel }: CorrectionProps) {
  const [ticked, setTicked] = useState<number[]>([0]);
  const box = useRef<HTMLElement>(null);
  // The list that the meaning was chosen from takes the keyboard back as it closes; then it comes here.
  useEffect(() => {
    const frame = requestAnimationFrame(() => box.current?.querySelector('input')?.focus());
    return () => cancelAnimationFrame(frame);
  }, []);
  const cancel = useRef(onCancel);
  cancel.current = onCancel;
  useEffect(() => {
    const pressed = (event: KeyboardEvent) => {
      if (event.key === 'Escape' && !event.defaultPrevented) cancel.current();
    };
    window.addEventListener('keydown', pressed);
    return () => window.removeEventListener('keydown', pressed);
  }, []);
  const chosen = proposed.places.filter((_, at) => ticked.includes(at));
  const guidance = ruled(data.guidance, chosen, proposed.meaning);
  const asked = useQuery({
    queryKey: ['correction', data.id, guidance],
    queryFn: () => post('/api/sessions/{session_id}/guidance/preview', { session_id: data.id }, guidance),
    placeholderData: keepPreviousData,
    enabled: chosen.length > 0,
  });
  const changes: GuidancePreview = chosen.length ? (asked.data ?? []) : [];
  const checking = chosen.length > 0 && (asked.isPending || asked.isPlaceholderData);
  const names = changes.reduce((sum, change) => sum + change.changed, 0);
  const changeOf = (group: string) => changes.find((change) => change.group === group);
  const exampleOf = (key: string) =>
    data.groups
      .find((group) => group.key === key)
      ?.example.split('/')
      .pop() ?? key;
  const along = changes.filter((change) => !proposed.groups.includes(change.group));
  return (
    <section
      ref={box}
      className="mt-2.5 grid gap-2 rounded-[10px] border border-plum bg-plum-wash px-3 py-2.5"
      aria-label="What this would change"
    >
      <div className="flex flex-wrap items-center gap-2">
        <p className="grow font-semibold">
          Read “{proposed.text}” as {proposed.says}?
          <span className="ml-2 font-normal text-soft" role="status">
            {asked.isError
              ? asked.error.message
              : checking
                ? 'Checking…'
                : !chosen.length
                  ? 'Tick the names to change.'
                  : names
                    ? `${count(names, 'name')} would read differently.`
                    : 'No name would read differently.'}
          </span>
        </p>
        <button
          type="button"
          className="btn btn-go"
          disabled={checking || asked.isError || !chosen.length}
          onClick={() => onApply(guidance)}
        >
          {names ? `Change ${count(names, 'name')}` : 'Confirm'}
        </button>
        <button type="button" className="btn" onClick={onCancel}>
          Cancel
        </button>
      </div>
      <ul className="grid max-h-[210px] gap-1.5 overflow-y-auto text-small">
        {proposed.groups.map((group, at) => (
          <li key={group}>
            <label className="flex items-center gap-2">
              <input
                type="checkbox"
                checked={ticked.includes(at)}
                onChange={() => setTicked(ticked.includes(at) ? ticked.filter((n) => n !== at) : [...ticked, at])}
              />
              <span className="num">{exampleOf(group)}</span>
              <span className="text-soft">
                {at === 0 ? 'and names like it' : 'another kind of names'}
                {changeOf(group) && `, ${changeOf(group)?.changed} of ${changeOf(group)?.files} change`}
              </span>
            </label>
            <Examples change={changeOf(group)} />
          </li>
        ))}
        {along.map((change) => (
          <li key={change.group}>
            <span className="num">{exampleOf(change.group)}</span>
            <span className="text-soft">
              {' '}
              change as well, because all names are compared with each other: {change.changed} of {change.files}
            </span>
            <Examples change={change} />
          </li>
        ))}
      </ul>
    </section>
  );
}

function Examples({ change }: { change: GuidancePreview[number] | undefined }) {
  if (!change) return null;
  return (
    <ul className="mt-0.5 grid gap-0.5 pl-6 text-tiny">
      {change.examples.map((example) => (
        <li key={example.name} className="flex flex-wrap gap-x-2">
          <span className="num w-[150px] shrink-0 truncate" title={example.name}>
            {example.name}
          </span>
          <span className="text-soft line-through">{example.before}</span>
          <span aria-hidden="true">→</span>
          <b>{example.after}</b>
        </li>
      ))}
    </ul>
  );
}
