/** How names are read: one card per column, with its meaning, the reason, and a correction for all files at once. */
import { ChevronDown, X } from 'lucide-react';
import { useState } from 'react';
import { type Column, type Guidance, post, type Reading, remove } from '../../api/calls';
import { count, minus } from '../../app/kit/format';
import { useKit } from '../../app/kit/kitStore';
import { queries } from '../../app/kit/queries';
import { useWrite } from '../../app/kit/writes';
import { AsksName } from '../../ui/AsksName';
import { Panel } from '../../ui/Panel';
import { Pick } from '../../ui/Pick';
import { Correction, type Proposed } from './Correction';
import type { Meaning } from './ruled';

const MEANINGS: { value: Meaning; name: string }[] = [
  { value: 'piece', name: 'piece' },
  { value: 'articulation', name: 'articulation' },
  { value: 'mic', name: 'microphone' },
  { value: 'strength', name: 'velocity layer' },
  { value: 'repeat', name: 'round robin' },
  { value: 'hand', name: 'hand' },
  { value: 'note', name: 'note name' },
  { value: 'ignored', name: 'not used' },
];

const nameOf = (meaning: string) =>
  meaning
    .split(' ')
    .map((one) => MEANINGS.find((m) => m.value === one)?.name ?? one)
    .join(', ');

/** Send a correction, and wait until the names are read again. */
export async function guide(sessionId: number, guidance: Guidance): Promise<void> {
  try {
    await post('/api/sessions/{session_id}/guidance', { session_id: sessionId }, guidance);
  } catch (error) {
    useKit.getState().say((error as Error).message);
  }
  await queries.invalidateQueries({ queryKey: ['jobs'] });
  await queries.invalidateQueries({ queryKey: ['reading'] });
}

export function Columns({ data }: { data: Reading }) {
  const [at, setAt] = useState(0);
  const [proposed, setProposed] = useState<Proposed | null>(null);
  const group = data.groups[Math.min(at, data.groups.length - 1)];
  if (!group) return null;
  const propose = (place: number, meaning: Meaning | null) => {
    const column = group.columns[place];
    if (!column) return;
    const elsewhere = column.elsewhere as [string, number][];
    setProposed({
      text: column.text,
      says: meaning ? nameOf(meaning) : 'the program would by itself',
      meaning,
      places: [[column.ruled_in ?? group.key, place], ...elsewhere],
      groups: [group.key, ...elsewhere.map(([key]) => key)],
    });
  };
  return (
    <section className="card shrink-0 px-3 py-2.5" aria-label="How the names read">
      <div className="mb-2 flex flex-wrap items-center gap-2">
        <h2>How the names read</h2>
        {data.groups.length > 1 ? (
          <Pick
            label="Names of one kind"
            value={Math.min(at, data.groups.length - 1)}
            options={data.groups.map((g, value) => ({
              value,
              name: `${g.example.split('/').pop()} and ${count(g.files - 1, 'other')}`,
            }))}
            onChange={(value) => {
              setAt(value);
              setProposed(null);
            }}
            className="max-w-[260px] py-0.5"
          />
        ) : (
          <span className="text-small text-soft">{count(group.files, 'file')} named alike</span>
        )}
        <span className="grow text-tiny text-soft">
          <span className="max-[1180px]:hidden">
            Change a column to see what all names like this one would say; files are never changed.
          </span>
        </span>
        <Saved data={data} />
        <Words data={data} />
      </div>
      <div
        className="grid gap-1.5 overflow-x-auto"
        style={{ gridTemplateColumns: `repeat(${group.columns.length}, minmax(92px, 1fr))` }}
      >
        {group.columns.map((column, place) => (
          <ColumnCard key={`${group.key} ${place}`} column={column} onRule={(meaning) => propose(place, meaning)} />
        ))}
      </div>
      {proposed && (
        <Correction
          key={JSON.stringify([proposed.places, proposed.meaning])}
          data={data}
          proposed={proposed}
          onApply={(guidance) => {
            setProposed(null);
            void guide(data.id, guidance);
          }}
          onCancel={() => setProposed(null)}
        />
      )}
    </section>
  );
}

interface ColumnCardProps {
  column: Column;
  onRule: (meaning: Meaning | null) => void;
}

function ColumnCard({ column, onRule }: ColumnCardProps) {
  const { doubtful } = column;
  const others = column.elsewhere.length;
  const decides = column.meaning === 'strength' || column.meaning === 'repeat';
  const known = MEANINGS.some((m) => m.value === column.meaning);
  return (
    <div
      className={`flex min-w-0 flex-col overflow-hidden rounded-[10px] border ${
        doubtful ? 'border-zest outline-2 outline-zest-wash outline-solid' : 'border-line'
      }`}
      title={column.distinct > 1 ? `Also ${column.samples.slice(0, 8).join(', ')}` : undefined}
      data-column={column.meaning}
      data-doubtful={doubtful || undefined}
    >
      <span className="flex items-baseline gap-1 px-2 pt-1.5">
        <b className="num block truncate">
          {column.text}
          {column.place === 'folder' && <span className="font-normal text-faint"> /</span>}
        </b>
        <span className="grow" />
        <span
          className={`num text-tiny ${doubtful ? 'font-bold text-zest-text' : 'text-faint'}`}
          title="How sure that is"
        >
          {Math.round(column.sure * 100)} %
        </span>
      </span>
      <span className="mb-1 grow px-2 text-tiny leading-snug text-soft max-[1180px]:line-clamp-2">
        {minus(column.reason)}
        {column.distinct > 1 && <span className="text-faint"> · {column.distinct} of them</span>}
      </span>
      <Pick
        label={`What ${column.text} means`}
        value={column.ruling ?? (known ? column.meaning : 'auto')}
        options={[
          ...(known ? [] : [{ value: 'auto', name: nameOf(column.meaning) }]),
          ...MEANINGS,
          ...(column.ruling ? [{ value: 'again', name: 'automatic' }] : []),
        ]}
        onChange={(value) => {
          if (value === 'auto') return;
          onRule(value === 'again' ? null : (value as Meaning));
        }}
        className={`w-full rounded-none border-0 border-t px-2 py-1 font-semibold ${
          decides ? 'bg-zest-wash text-zest-text' : 'bg-sunk'
        }`}
      />
      {column.ruling && others > 0 && (
        <button
          type="button"
          className="link border-t border-line px-2 py-1 text-left text-tiny"
          onClick={() => onRule(column.ruling as Meaning)}
        >
          {count(others, 'other kind')} of names…
        </button>
      )}
    </div>
  );
}

/** Saved readings that fit these names, and saving this one. */
function Saved({ data }: { data: Reading }) {
  const apply = useWrite(
    (id: string) => post('/api/sessions/{session_id}/saved-readings/{saved_id}', { session_id: data.id, saved_id: id }),
    { changes: ['jobs'] },
  );
  const save = useWrite(
    (name: string) => post('/api/sessions/{session_id}/saved-readings', { session_id: data.id }, { name }),
    { changes: ['reading'] },
  );
  return (
    <>
      {data.offered.slice(0, 2).map((saved) => (
        <button key={saved.id} type="button" className="btn px-2 py-0.5" onClick={() => void apply.send(saved.id)}>
          Read as “{saved.name}”
        </button>
      ))}
      {data.guidance.rulings.length > 0 && (
        <AsksName
          label="Name of this reading"
          says="Save this reading"
          className="btn px-2 py-0.5"
          title="Save what you chose for these columns, for sessions named the same way"
          onName={(name) => void save.send(name)}
        />
      )}
    </>
  );
}

const WORD_MEANINGS = MEANINGS.filter((m) => !['repeat', 'note'].includes(m.value)) as {
  value: Guidance['words'][number]['meaning'];
  name: string;
}[];

/** Learned words, for this session and later ones. */
function Words({ data }: { data: Reading }) {
  const [word, setWord] = useState('');
  const [meaning, setMeaning] = useState<Guidance['words'][number]['meaning']>('piece');
  const [value, setValue] = useState('');
  const field = 'rounded-lg border border-line bg-card px-2 py-1';
  return (
    <Panel
      label="Words"
      buttonClass="btn px-2 py-0.5"
      button={
        <>
          Words{data.words.length ? ` · ${data.words.length}` : ''} <ChevronDown size={12} aria-hidden="true" />
        </>
      }
      className="grid w-[380px] gap-2.5 p-3.5 text-small"
    >
      {() => (
        <>
          <p className="text-soft">Explain a word once and it is known in every session.</p>
          <form
            className="flex flex-wrap items-center gap-1.5"
            onSubmit={(event) => {
              event.preventDefault();
              const told = word.trim().toLowerCase();
              if (!told) return;
              void guide(data.id, { ...data.guidance, words: [{ word: told, meaning, value: value.trim() }] });
              setWord('');
              setValue('');
            }}
          >
            <input
              aria-label="The word"
              placeholder="sn"
              className={`${field} num w-[84px]`}
              value={word}
              maxLength={60}
              onChange={(event) => setWord(event.target.value)}
            />
            is the
            <Pick label="Kind of word" value={meaning} options={WORD_MEANINGS} onChange={setMeaning} />
            {meaning !== 'ignored' && (
              <input
                aria-label="What it stands for"
                placeholder={meaning === 'piece' ? 'Snare' : meaning === 'strength' ? 'soft' : 'the word itself'}
                className={`${field} w-[110px]`}
                value={value}
                maxLength={60}
                onChange={(event) => setValue(event.target.value)}
              />
            )}
            <button type="submit" className="btn btn-go px-2 py-1" disabled={!word.trim()}>
              Add word
            </button>
          </form>
          <ul className="grid gap-1">
            {data.words.map((known) => (
              <li key={known.word} className="flex items-center gap-2">
                <span className="num">{known.word}</span>
                <span className="grow text-soft">
                  {nameOf(known.meaning)} {known.value}
                </span>
                <button
                  type="button"
                  className="grid size-6 shrink-0 place-items-center rounded text-faint hover:bg-sunk"
                  aria-label={`Delete ${known.word}`}
                  onClick={() =>
                    void remove('/api/words/{word}', { word: known.word }).then(() =>
                      guide(data.id, { ...data.guidance, words: [] }),
                    )
                  }
                >
                  <X size={13} />
                </button>
              </li>
            ))}
          </ul>
        </>
      )}
    </Panel>
  );
}
