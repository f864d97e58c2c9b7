/** The start page: everything saved, with search and previews; new kits from recordings or files. */
import { useCallback, useEffect, useState } from 'react';
import { useSearchParams } from 'react-router';
import { post } from '../../api/calls';
import { filesOfDrop, nameOfDrop } from '../../app/importing/importing';
import { Away } from '../../app/shell/Away';
import { Brand, ThemeSwitch } from '../../app/shell/Brand';
import { HelpButton } from '../../app/shell/Help';
import { Pick } from '../../ui/Pick';
import { Cards } from './Cards';
import { useCarriedToLibrary } from './carried';
import { type Thing, thingsOf, useChosen } from './chosen';
import { tell, useDoing, useTold } from './doing';
import { AWAY, saysOf, titleOf, useAsked, useFound } from './finding';
import { useHearing } from './hearing';
import { Kinds } from './Kinds';
import { Look } from './Look';
import { NewKit, useNewKit } from './NewKit';
import { isOurFile, OpenFile, useOpening } from './OpenFile';
import { PreviewBar } from './PreviewBar';
import { Removing } from './Removing';

/** With so few kits there is room to explain how to make one. */
const FEW = 4;
const SORTS = [
  { value: 'changed' as const, name: 'last changed' },
  { value: 'name' as const, name: 'by name' },
];

export function Library() {
  const { ask, ...asked } = useAsked();
  const { total, tags, known, error } = useFound(asked, 0, 0);
  const [removing, setRemoving] = useState<Thing[] | null>(null);
  const doing = useDoing();
  const newKit = useNewKit();
  const opening = useOpening(asked.kind);
  const [over, setOver] = useState(false);
  useCarriedToLibrary();
  useEffect(() => {
    document.title = `${titleOf(asked.kind)} · Zesty Skin`;
    return () => {
      document.title = 'Zesty Skin';
      useHearing.getState().stop();
    };
  }, [asked.kind]);
  const [search, setSearch] = useSearchParams();
  const wanted = search.get('look');
  useEffect(() => {
    if (!wanted) return;
    useChosen.getState().look({ kind: 'kits', id: wanted, name: '' });
    setSearch(
      (before) => {
        before.delete('look');
        return before;
      },
      { replace: true },
    );
  }, [wanted, setSearch]);
  const putAway = useCallback(async () => {
    const things = thingsOf(useChosen.getState()).map(({ kind, id }) => ({ kind, id }));
    if (!things.length) return;
    const put_away = asked.kind !== AWAY;
    const told = await doing(() => post('/api/library/put-away', {}, { things, put_away }));
    if (!told) return;
    tell([told.said, ...told.refused].join(' '), told.refused.length > 0);
    const back = async () => {
      await doing(() => post('/api/library/put-away', {}, { things, put_away: !put_away }));
    };
    useTold.setState({ undo: back });
    useChosen.setState({ looked: null, several: new Map() });
  }, [asked.kind, doing]);
  const drop = async (transfer: DataTransfer) => {
    const name = nameOfDrop(transfer);
    const files = await filesOfDrop(transfer);
    if (files.length && files.every(({ file }) => isOurFile(file.name))) {
      for (const { file } of files) await opening.open(file);
    } else await newKit.start(files, name);
  };
  return (
    <div className="grid h-full grid-cols-[minmax(0,1fr)] grid-rows-[auto_minmax(0,1fr)_56px]">
      <div>
        <header className="flex h-[52px] items-center justify-between border-b border-line bg-card px-4">
          <Brand />
          <span className="flex items-center gap-1">
            <HelpButton />
            <ThemeSwitch />
          </span>
        </header>
        <Away />
      </div>
      <div className="grid min-h-0 grid-cols-[176px_minmax(0,1fr)_300px] max-[1180px]:grid-cols-[150px_minmax(0,1fr)_264px] max-[900px]:grid-cols-1 max-[900px]:grid-rows-[auto_minmax(220px,1fr)_auto] max-[900px]:overflow-y-auto">
        <Kinds tags={tags} />
        <main
          className={`flex min-h-0 min-w-0 flex-col gap-2.5 pt-3 ${over ? 'bg-zest-wash' : ''}`}
          aria-label={titleOf(asked.kind)}
          onDragOver={(event) => {
            event.preventDefault();
            setOver(true);
          }}
          onDragLeave={() => setOver(false)}
          onDrop={(event) => {
            event.preventDefault();
            setOver(false);
            void drop(event.dataTransfer);
          }}
        >
          <div className="flex flex-wrap items-center gap-2.5 px-[18px]">
            <h1>{titleOf(asked.kind)}</h1>
            <Find asked={asked.asked} onAsk={(text) => ask({ asked: text })} />
            <Pick label="Sorted" value={asked.sort} options={SORTS} onChange={(sort) => ask({ sort })} />
            <span className="num text-faint" role="status" data-testid="found">
              {known ? total.toLocaleString('en') : ''}
            </span>
            <span className="grow" />
            <OpenFile opening={opening} kind={asked.kind} />
            {(asked.kind === 'kits' || asked.kind === 'sessions') && <NewKit kit={newKit} />}
            {newKit.choosers}
          </div>
          <p className="px-[18px] text-small text-soft">{saysOf(asked.kind)}</p>
          {over && <p className="px-[18px] text-small">Drop recordings for a new kit, or saved files.</p>}
          <Said error={error} />
          <Cards asked={asked} onPutAway={() => void putAway()} />
          {asked.kind === 'kits' && known && total <= FEW && !asked.asked && (
            <p className="mx-[18px] mb-4 grid place-content-center rounded-[14px] border border-dashed border-edge px-6 py-7 text-center text-soft">
              Drop a folder or a zip of drum recordings anywhere here: its file names are read and it becomes a kit that
              plays like a drummer.
            </p>
          )}
        </main>
        <Look onPutAway={() => void putAway()} onRemove={() => setRemoving(thingsOf(useChosen.getState()))} />
      </div>
      <PreviewBar />
      {removing && removing.length > 0 && <Removing things={removing} onClose={() => setRemoving(null)} />}
    </div>
  );
}

function Find({ asked, onAsk }: { asked: string; onAsk: (text: string) => void }) {
  const [text, setText] = useState(asked);
  useEffect(() => setText(asked), [asked]);
  return (
    <input
      type="search"
      aria-label="Find"
      placeholder="Name, tag, piece, microphone"
      value={text}
      onChange={(event) => {
        setText(event.target.value);
        onAsk(event.target.value);
        useChosen.setState({ at: 0, looked: null, several: new Map() });
      }}
      onKeyDown={(event) => {
        if (event.key !== 'ArrowDown') return;
        event.preventDefault();
        document.querySelector<HTMLElement>('[data-place="0"]')?.focus();
      }}
      className="h-8 w-[220px] min-w-0 shrink rounded-lg border border-line bg-card px-3"
    />
  );
}

/** The result of the last action, with its undo. */
function Said({ error }: { error: Error | null }) {
  const { said, wrong, undo } = useTold();
  const shown = error?.message ?? said;
  if (!shown) return null;
  return (
    <p
      role={wrong || error ? 'alert' : 'status'}
      className={`mx-[18px] flex items-center justify-between gap-4 rounded-xl border px-3.5 py-2 ${wrong || error ? 'border-amber-line bg-amber-wash' : 'border-line bg-card'}`}
    >
      <span>{shown}</span>
      <span className="flex shrink-0 gap-3">
        {undo && !wrong && (
          <button type="button" className="link" onClick={() => void undo()}>
            Undo
          </button>
        )}
        <button type="button" className="link" onClick={() => tell(null)}>
          Close
        </button>
      </span>
    </p>
  );
}
