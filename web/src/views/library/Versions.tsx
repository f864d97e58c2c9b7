/** A kit's versions by day and gesture, in sentences; bookmarked, compared, heard, restored. */
import { useQuery } from '@tanstack/react-query';
import { ChevronDown, ChevronRight } from 'lucide-react';
import { useState } from 'react';
import { type DaySteps, get, post, remove, type Step } from '../../api/calls';
import { count } from '../../app/kit/format';
import { AsksName } from '../../ui/AsksName';
import { tell, useDoing } from './doing';
import { LOOKS_AGAIN_MS } from './finding';
import { Hear } from './Hear';
import { dayOf, timeOf } from './when';

/** Days with more steps than this are collapsed to a count. */
const WRITTEN_OUT = 3;

interface VersionsProps {
  kit: string;
  name: string;
  /** In the bin or shipped: read-only. */
  fixed: boolean;
}

export function Versions({ kit, name, fixed }: VersionsProps) {
  const [earlier, setEarlier] = useState<Step | null>(null);
  const [later, setLater] = useState<Step | null>(null);
  const minutes = -new Date().getTimezoneOffset();
  const { data } = useQuery({
    queryKey: ['versions', kit],
    queryFn: () => get('/api/kits/{kit_id}/versions', { kit_id: kit, minutes }),
    refetchInterval: LOOKS_AGAIN_MS,
  });
  if (!data) return null;
  const newest = data.stretches[0]?.steps[0];
  const compared = later ?? newest ?? null;
  const choose = (step: Step) => {
    if (earlier?.version === step.version) {
      setEarlier(null);
      setLater(null);
    } else if (earlier && step.version > earlier.version) setLater(step);
    else {
      setEarlier(step);
      setLater(null);
    }
  };
  return (
    <section aria-label="Versions" className="grid gap-1">
      <h2 className="head">Versions</h2>
      {earlier && compared && (
        <Compared
          kit={kit}
          name={name}
          current={data.current}
          earlier={earlier}
          later={compared}
          fixed={fixed}
          onClose={() => setEarlier(null)}
        />
      )}
      <ol className="grid">
        {data.stretches.map((stretch) => (
          <Stretch
            key={stretch.steps[0]?.version}
            stretch={stretch}
            current={data.current}
            chosen={[earlier?.version, earlier ? compared?.version : undefined]}
            onChoose={choose}
          />
        ))}
      </ol>
      {data.more && <p className="text-tiny text-soft">Older versions exist but are not listed.</p>}
    </section>
  );
}

interface StretchProps {
  stretch: DaySteps;
  current: number;
  chosen: (number | undefined)[];
  onChoose: (step: Step) => void;
}

function Stretch({ stretch, current, chosen, onChoose }: StretchProps) {
  const [open, setOpen] = useState(false);
  const { steps } = stretch;
  const [last, first] = [steps[0], steps[steps.length - 1]];
  if (!last || !first) return null;
  const day = dayOf(new Date(last.made));
  const row =
    'grid min-h-7 w-full grid-cols-[14px_minmax(0,1fr)_auto] items-center gap-2 rounded-md px-1 py-0.5 text-left text-small';
  const folds = steps.length > WRITTEN_OUT;
  const rest = steps.slice(1);
  const written = folds && !open ? [last] : steps;
  const Arrow = open ? ChevronDown : ChevronRight;
  return (
    <>
      {written.map((step, place) => (
        <li key={step.version}>
          <button
            type="button"
            aria-pressed={chosen.includes(step.version)}
            title={`${step.name ? `${step.name}: ` : ''}${step.said}. Press to compare it with another`}
            className={`${row} ${chosen.includes(step.version) ? 'bg-plum-wash' : 'hover:bg-sunk'}`}
            onClick={() => onChoose(step)}
          >
            <span
              aria-hidden="true"
              className={`h-2.5 w-2.5 rounded-full ${step.name ? 'bg-zest' : step.version === current ? 'bg-ink' : 'bg-edge/50'}`}
            />
            <span className={`truncate ${step.name ? 'font-semibold' : ''}`}>
              {step.name || step.said}
              {step.version === current && <span className="text-faint"> · now</span>}
            </span>
            <span className="num text-tiny text-soft">{day === 'today' ? timeOf(step.made) : day}</span>
          </button>
          {folds && place === 0 && (
            <button
              type="button"
              className={`${row} text-soft hover:bg-sunk ${!open && rest.some(({ version }) => chosen.includes(version)) ? 'bg-plum-wash' : ''}`}
              aria-expanded={open}
              onClick={() => setOpen(!open)}
            >
              <Arrow size={12} aria-hidden="true" />
              <span>{count(rest.length, 'edit')} before</span>
              <span className="num text-tiny">
                {day === 'today' ? '' : `${day} `}
                {timeOf(first.made)} to {timeOf(rest[0]?.made ?? first.made)}
              </span>
            </button>
          )}
        </li>
      ))}
    </>
  );
}

interface ComparedProps {
  kit: string;
  name: string;
  current: number;
  earlier: Step;
  later: Step;
  fixed: boolean;
  onClose: () => void;
}

function Compared({ kit, name, current, earlier, later, fixed, onClose }: ComparedProps) {
  const doing = useDoing();
  const [sure, setSure] = useState(false);
  const same = earlier.version === later.version;
  const { data } = useQuery({
    queryKey: ['compared', kit, earlier.version, later.version],
    queryFn: () => get('/api/kits/{kit_id}/compare', { kit_id: kit, earlier: earlier.version, later: later.version }),
    enabled: !same,
  });
  const called = (step: Step) => step.name || step.said;
  const nameIt = (given: string) =>
    doing(() => post('/api/kits/{kit_id}/moments', { kit_id: kit }, { version: earlier.version, name: given }));
  const goBack = async () => {
    const state = await doing(() =>
      post(
        '/api/kits/{kit_id}/back',
        { kit_id: kit },
        { base_version: current, as_it_was: { version: earlier.version, routing: false } },
      ),
    );
    if (state) {
      tell(`${name} was restored to “${called(earlier)}”; undo reverts that.`);
      onClose();
    }
  };
  const forget = async () => {
    const gone = await doing(() => post('/api/kits/{kit_id}/forget', { kit_id: kit }, { before: earlier.version }));
    if (gone)
      tell(`${count(gone.versions, 'version')} deleted. Recordings only they used can be deleted under Storage.`);
    onClose();
  };
  return (
    <div className="card grid gap-2 text-small" role="region" aria-label="Two versions compared">
      <div className="flex items-center gap-2">
        <Hear
          item={{ kind: 'kits', id: kit, version: earlier.version }}
          name={`A, ${called(earlier)}`}
          says="A"
          keepPlace
        />
        <span className="min-w-0 grow truncate">{called(earlier)}</span>
        <button type="button" className="link text-tiny" onClick={onClose}>
          Close
        </button>
      </div>
      {!same && (
        <div className="flex items-center gap-2">
          <Hear
            item={{ kind: 'kits', id: kit, version: later.version }}
            name={`B, ${called(later)}`}
            says="B"
            keepPlace
          />
          <span className="min-w-0 truncate">{later.version === current ? 'as it is now' : called(later)}</span>
        </div>
      )}
      {!same && data && (
        <ul
          className="grid max-h-[180px] gap-0.5 overflow-y-auto border-t border-line pt-1.5"
          aria-label="What changed"
        >
          {data.said.map((said) => (
            <li key={said}>{said}</li>
          ))}
          {data.said.length === 0 && <li className="text-soft">Nothing differs.</li>}
        </ul>
      )}
      {!fixed && (
        <div className="flex flex-wrap gap-1.5">
          {earlier.version !== current && (
            <button type="button" className="btn" onClick={() => void goBack()}>
              Restore A
            </button>
          )}
          <AsksName
            label="Name of this version"
            says={earlier.name ? 'Rename A' : 'Name A'}
            value={earlier.name}
            className="btn"
            onName={(given) => void nameIt(given).then(onClose)}
          />
          {earlier.name && (
            <button
              type="button"
              className="btn"
              onClick={() =>
                void doing(() =>
                  remove('/api/kits/{kit_id}/moments/{version}', { kit_id: kit, version: earlier.version }),
                ).then(onClose)
              }
            >
              No name
            </button>
          )}
          <button
            type="button"
            className="btn"
            title="Cannot be undone; named versions stay"
            onClick={() => (sure ? void forget() : setSure(true))}
            onBlur={() => setSure(false)}
          >
            {sure ? 'Delete older versions for good?' : 'Delete older versions'}
          </button>
        </div>
      )}
    </div>
  );
}
