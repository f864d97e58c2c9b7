/** The selected item: preview, description, tags, copy, bin; and a kit's versions. */

import { useQuery } from '@tanstack/react-query';
import { X } from 'lucide-react';
import { useEffect, useId, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { type Entry, get, post } from '../../api/calls';
import { useWrite } from '../../app/kit/writes';
import { useJob } from '../../app/shell/Jobs';
import { AsksName } from '../../ui/AsksName';
import { itemOf } from './Card';
import { TakeInto } from './carried';
import { keyOf, type Thing, thingsOf, useChosen } from './chosen';
import { tell, useDoing } from './doing';
import { AWAY, LOOKS_AGAIN_MS, useAsked } from './finding';
import { Hear, usePreview, whyNot } from './Hear';
import { Picture } from './Picture';
import { Versions } from './Versions';

interface LookProps {
  onPutAway: () => void;
  onRemove: () => void;
}

export function Look({ onPutAway, onRemove }: LookProps) {
  const chosen = useChosen();
  const several = chosen.several.size > 1;
  return (
    <aside
      aria-label={several ? 'Selection' : 'Details'}
      className="min-h-0 overflow-y-auto border-l border-line bg-side p-4 max-[900px]:border-t max-[900px]:border-l-0"
    >
      {several ? (
        <Several things={thingsOf(chosen)} onPutAway={onPutAway} onRemove={onRemove} />
      ) : (
        chosen.looked && (
          <One key={keyOf(chosen.looked)} thing={chosen.looked} onPutAway={onPutAway} onRemove={onRemove} />
        )
      )}
    </aside>
  );
}

function One({ thing, onPutAway, onRemove }: LookProps & { thing: Thing }) {
  const { data, error } = useQuery({
    queryKey: ['library', 'detail', thing.kind, thing.id],
    queryFn: () => get('/api/library/{kind}/{thing_id}', { kind: thing.kind, thing_id: thing.id }),
    retry: false,
    refetchInterval: LOOKS_AGAIN_MS,
  });
  if (error) return <p className="text-soft">{error.message}</p>;
  if (!data) return null;
  const { entry, related } = data;
  return (
    <div className="grid gap-3.5">
      <Heading entry={entry} />
      {entry.ships ? (
        <>
          <p className="text-small text-soft">{entry.description}</p>
          <p className="rounded-xl bg-sunk px-3 py-2 text-small">
            {entry.kind === 'kits'
              ? 'It ships with Zesty Skin and never changes. Open it and play; your first change makes a copy of your own.'
              : 'It ships with Zesty Skin and never changes. Duplicate it to have one of your own.'}
          </p>
        </>
      ) : (
        <>
          <Description entry={entry} />
          <Tags entry={entry} />
        </>
      )}
      <Acts entry={entry} onPutAway={onPutAway} onRemove={onRemove} />
      {entry.kind === 'kits' && <Versions kit={entry.id} name={entry.name} fixed={entry.put_away || entry.ships} />}
      {related.length > 0 && (
        <section aria-label="Used with" className="grid gap-1 rounded-xl bg-plum-wash px-3 py-2 text-small">
          {related.map((said) => (
            <p key={said}>{said}</p>
          ))}
        </section>
      )}
    </div>
  );
}

function Heading({ entry }: { entry: Entry }) {
  const item = itemOf(entry);
  const preview = usePreview(item);
  const why = item ? whyNot(preview) : '';
  return (
    <div className="grid gap-2.5">
      <div className="flex items-center gap-3">
        {item && <Hear item={item} name={entry.name} large />}
        <div className="grid min-w-0 grow gap-0.5">
          <h2 className="truncate text-[16px]" title={entry.name}>
            {entry.name}
          </h2>
          <span className="num text-soft">{entry.figures}</span>
        </div>
      </div>
      {item &&
        (preview?.outline.length ? (
          <Picture item={item} outline={preview.outline} />
        ) : (
          <p className="text-tiny text-soft">{why}</p>
        ))}
    </div>
  );
}

function Description({ entry }: { entry: Entry }) {
  const doing = useDoing();
  const [text, setText] = useState(entry.description);
  useEffect(() => setText(entry.description), [entry.description]);
  const keep = () => {
    if (text.trim() === entry.description) return;
    void doing(() =>
      post(
        '/api/library/{kind}/{thing_id}/say',
        { kind: entry.kind, thing_id: entry.id },
        { description: text.trim() },
      ),
    );
  };
  return (
    <textarea
      aria-label={`Description of ${entry.name}`}
      value={text}
      rows={Math.min(5, Math.max(2, Math.ceil(text.length / 38)))}
      maxLength={2000}
      disabled={entry.put_away}
      placeholder="Describe it"
      onChange={(event) => setText(event.target.value)}
      onBlur={keep}
      onKeyDown={(event) => {
        if (event.key === 'Enter' && !event.shiftKey) {
          event.preventDefault();
          event.currentTarget.blur();
        }
        if (event.key === 'Escape') setText(entry.description);
      }}
      className="-mx-2 resize-none rounded-lg border border-transparent bg-transparent px-2 py-1.5 text-small text-soft hover:border-line focus:border-edge focus:bg-card focus:text-ink"
    />
  );
}

function Tags({ entry }: { entry: Entry }) {
  const doing = useDoing();
  const say = (tags: string[]) =>
    doing(() => post('/api/library/{kind}/{thing_id}/say', { kind: entry.kind, thing_id: entry.id }, { tags }));
  return (
    <div className="flex flex-wrap items-center gap-1.5" role="group" aria-label={`Tags of ${entry.name}`}>
      {entry.tags.map((tag) => (
        <span key={tag} className="flex items-center rounded-full bg-sunk pl-2.5 text-tiny text-soft">
          {tag}
          <button
            type="button"
            disabled={entry.put_away}
            aria-label={`Remove the tag ${tag} from ${entry.name}`}
            className="grid h-6 w-6 place-items-center rounded-full hover:text-ink"
            onClick={() => void say(entry.tags.filter((each) => each !== tag))}
          >
            <X size={11} aria-hidden="true" />
          </button>
        </span>
      ))}
      {!entry.put_away && <AddTag label={`A tag for ${entry.name}`} onTag={(tag) => void say([...entry.tags, tag])} />}
    </div>
  );
}

function AddTag({ label, onTag }: { label: string; onTag: (tag: string) => void }) {
  const [text, setText] = useState('');
  const id = useId();
  const known = useQuery({
    queryKey: ['library', 'tags'],
    queryFn: () => get('/api/library/{kind}', { kind: 'kits', count: 1 }),
  }).data?.tags;
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        const tag = text.trim();
        setText('');
        if (tag) onTag(tag);
      }}
    >
      <input
        aria-label={label}
        list={id}
        value={text}
        maxLength={40}
        placeholder="+ tag"
        onChange={(event) => setText(event.target.value)}
        className="h-6 w-[88px] rounded-full border border-dashed border-edge bg-transparent px-2.5 text-tiny"
      />
      <datalist id={id}>
        {known?.map(({ tag }) => (
          <option key={tag} value={tag} />
        ))}
      </datalist>
    </form>
  );
}

function Acts({ entry, onPutAway, onRemove }: LookProps & { entry: Entry }) {
  const doing = useDoing();
  const navigate = useNavigate();
  const duplicate = () =>
    void doing(() =>
      post('/api/library/{kind}/{thing_id}/duplicate', { kind: entry.kind, thing_id: entry.id }, {}),
    ).then((copy) => {
      if (!copy) return;
      tell(`${copy.name} is a copy of ${entry.name}.`);
      useChosen.getState().look(copy, 0);
    });
  return (
    <div className="flex flex-wrap gap-1.5">
      {entry.kind === 'kits' && !entry.put_away && (
        <>
          <Link className="btn btn-go" to={`/kits/${entry.id}/layers`}>
            Open
          </Link>
          <Link className="btn" to={`/kits/${entry.id}/delivery`}>
            Deliver
          </Link>
        </>
      )}
      {entry.kind === 'pieces' && !entry.put_away && <TakeInto entry={entry} />}
      {!entry.put_away && (
        <button type="button" className="btn" onClick={duplicate}>
          Duplicate
        </button>
      )}
      {!entry.ships && !entry.put_away && (
        <AsksName
          label={`Name of ${entry.name}`}
          says="Rename"
          className="btn"
          value={entry.name}
          onName={(name) =>
            void doing(() =>
              post('/api/library/{kind}/{thing_id}/say', { kind: entry.kind, thing_id: entry.id }, { name }),
            ).then((said) => said && useChosen.getState().look(said))
          }
        />
      )}
      <SaveFile entry={entry} />
      {!entry.built_in && (
        <button type="button" className="btn" onClick={onPutAway}>
          {entry.put_away ? 'Restore' : 'Move to bin'}
        </button>
      )}
      {!entry.ships && (
        <button type="button" className="btn" onClick={onRemove}>
          Delete for good…
        </button>
      )}
      {entry.kind === 'sessions' && <MakeKit entry={entry} onMade={(kit) => navigate(`/kits/${kit}/recordings`)} />}
    </div>
  );
}

/** Small items download at once; a job collects a piece's recordings first. */
function SaveFile({ entry }: { entry: Entry }) {
  const [jobId, setJobId] = useState<string | null>(null);
  const { data: job } = useJob(jobId);
  useEffect(() => {
    if (!job || job.state === 'waiting' || job.state === 'running') return;
    setJobId(null);
    if (job.download) window.location.assign(job.download);
    else tell(job.message, true);
  }, [job]);
  const { send: write } = useWrite(
    async () => setJobId((await post('/api/library/pieces/{piece_id}/file', { piece_id: entry.id })).id),
    { refused: (sentence) => tell(sentence, true) },
  );
  if (!entry.carried || entry.put_away) return null;
  if (entry.kind !== 'pieces') {
    return (
      <a
        className="btn"
        href={
          entry.kind === 'grooves' ? `/api/grooves/${entry.id}/file` : `/api/shelves/${entry.kind}/${entry.id}/file`
        }
        download
      >
        Save as a file
      </a>
    );
  }
  return (
    <button type="button" className="btn" disabled={jobId !== null} onClick={() => void write()}>
      {jobId ? `Writing… ${job?.total ? `${Math.round((100 * job.done) / job.total)} %` : ''}` : 'Save as a file'}
    </button>
  );
}

function MakeKit({ entry, onMade }: { entry: Entry; onMade: (kit: string) => void }) {
  const doing = useDoing();
  return (
    <button
      type="button"
      className="btn"
      onClick={() =>
        void doing(() => post('/api/sessions/{session_id}/kit', { session_id: Number(entry.id) })).then(
          (made) => made && onMade(made.id),
        )
      }
    >
      New kit from it
    </button>
  );
}

function Several({ things, onPutAway, onRemove }: LookProps & { things: Thing[] }) {
  const doing = useDoing();
  const away = useAsked().kind === AWAY;
  const asked = things.map(({ kind, id }) => ({ kind, id }));
  return (
    <div className="grid gap-3">
      <h2 className="text-[16px]">{things.length} selected</h2>
      <ul className="grid max-h-[38vh] gap-0.5 overflow-y-auto text-small text-soft">
        {things.map((thing) => (
          <li key={keyOf(thing)} className="truncate">
            {thing.name}
          </li>
        ))}
      </ul>
      <AddTag
        label="Tag for all selected"
        onTag={(tag) =>
          void doing(() => post('/api/library/tags', {}, { things: asked, add: [tag] })).then((told) => {
            if (told) tell([told.said, ...told.refused].join(' '), told.refused.length > 0);
          })
        }
      />
      <div className="flex flex-wrap gap-1.5">
        <button type="button" className="btn" onClick={onPutAway}>
          {away ? 'Restore' : 'Move to bin'}
        </button>
        <button type="button" className="btn" onClick={onRemove}>
          Delete for good…
        </button>
        <button type="button" className="btn" onClick={() => useChosen.getState().clear()}>
          Clear selection
        </button>
      </div>
    </div>
  );
}
