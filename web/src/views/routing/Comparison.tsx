/** A/B: bookmarking the kit, choosing a version to compare with, and switching between the two, blind if wanted. */
import { useQuery } from '@tanstack/react-query';
import { get, type MomentShown, post, remove } from '../../api/calls';
import {
  compareWith,
  goBack,
  heardNow,
  hearSide,
  hideWhich,
  showWhich,
  useComparing,
} from '../../app/comparing/comparing';
import { signed } from '../../app/kit/format';
import { useKit } from '../../app/kit/kitStore';
import { useWrite } from '../../app/kit/writes';
import { AsksName } from '../../ui/AsksName';
import { Panel } from '../../ui/Panel';

const called = (moment: MomentShown) => (moment.name ? `“${moment.name}”` : `before “${moment.said}”`);

function ago(made: string): string {
  const minutes = Math.round((Date.now() - new Date(made).getTime()) / 60_000);
  if (minutes < 1) return 'just now';
  if (minutes < 60) return `${minutes} min ago`;
  return minutes < 2880 ? `${Math.round(minutes / 60)} h ago` : `${Math.round(minutes / 1440)} days ago`;
}

/** The versions to compare with: bookmarked ones first, then those that led to the present one. */
export function CompareMenu() {
  const id = useKit((s) => s.kit?.id as string);
  const version = useKit((s) => s.kit?.version as number);
  const compared = useComparing((s) => s.other?.moment.version);
  const { data = [] } = useQuery({
    queryKey: ['moments', id, version],
    queryFn: () => get('/api/kits/{kit_id}/moments', { kit_id: id }),
  });
  const { send: anew } = useWrite((done: Promise<unknown>) => done, { changes: ['moments'] });
  const marked = data.filter((moment) => moment.name);
  // The version an edit made is after the edit; before it is the version before.
  const steps = data.flatMap((moment, place) => {
    const before = data[place + 1];
    return before && !before.name ? [{ ...before, said: moment.said, made: moment.made }] : [];
  });
  const row = (moment: MomentShown, close: () => void) => (
    <li key={moment.version} className="flex items-center gap-1">
      <button
        type="button"
        className="grid min-w-0 grow rounded-lg px-2 py-1 text-left hover:bg-sunk aria-pressed:bg-plum-wash"
        aria-pressed={compared === moment.version}
        disabled={moment.version === version}
        onClick={() => {
          void compareWith({ moment, routing: true });
          close();
        }}
      >
        <span className="truncate">{called(moment)}</span>
        <span className="text-tiny text-soft">{moment.version === version ? 'as it is now' : ago(moment.made)}</span>
      </button>
      {moment.name && (
        <button
          type="button"
          className="link text-tiny"
          aria-label={`Delete the mark ${moment.name}`}
          onClick={() =>
            void anew(remove('/api/kits/{kit_id}/moments/{version}', { kit_id: id, version: moment.version }))
          }
        >
          Delete
        </button>
      )}
    </li>
  );
  return (
    <Panel label="Compare with" buttonClass="btn px-2.5" button="A / B" className="grid w-[320px] gap-2 p-2.5">
      {(close) => (
        <>
          <AsksName
            label="Name of this moment"
            says="Mark the current state as…"
            onName={(name) => void anew(post('/api/kits/{kit_id}/moments', { kit_id: id }, { version, name }))}
          />
          {marked.length > 0 && (
            <>
              <h2 className="head">Marked</h2>
              <ul className="grid gap-0.5">{marked.map((moment) => row(moment, close))}</ul>
            </>
          )}
          <h2 className="head">Earlier</h2>
          {steps.length === 0 && <p className="px-2 text-small text-soft">Nothing was changed yet.</p>}
          <ul className="grid max-h-[260px] gap-0.5 overflow-y-auto">{steps.map((moment) => row(moment, close))}</ul>
        </>
      )}
    </Panel>
  );
}

/** What is compared, and a switch to hear it. */
export function Compared() {
  const comparing = useComparing();
  const { other, table, softer, said, hearing, blind } = comparing;
  if (!other) return null;
  const { moment, routing } = other;
  const side = (which: 'a' | 'b', name: string) => (
    <button
      type="button"
      className="btn flex-1 justify-center aria-pressed:border-plum aria-pressed:bg-plum aria-pressed:text-card"
      aria-pressed={hearing === which}
      disabled={which === 'b' && !table}
      onClick={() => hearSide(which)}
    >
      {name}
    </button>
  );
  const second = blind?.first === 'a' ? 'b' : 'a';
  return (
    <section className="grid grid-cols-[minmax(0,1fr)] gap-2 rounded-[10px] bg-plum-wash p-2.5" aria-label="A and B">
      <h2 className="text-[14px]">Compared</h2>
      <p className="text-small">
        {blind
          ? 'Blind test: one is the kit now, the other the earlier state.'
          : `A: as it is now. B: ${called(moment)}, ${ago(moment.made)}${routing ? ', its routing' : ''}.`}
      </p>
      <p className="num text-tiny text-soft" aria-live="polite" data-testid="equal">
        {said ||
          (softer === null
            ? 'measuring loudness…'
            : blind
              ? 'both are loudness-matched'
              : `B is ${signed(-softer)} dB; loudness-matched`)}
      </p>
      <div className="flex gap-1.5">
        {blind ? (
          <>
            {side(blind.first, 'Hear 1')}
            {side(second, 'Hear 2')}
          </>
        ) : (
          <>
            {side('a', 'Hear A')}
            {side('b', 'Hear B')}
          </>
        )}
      </div>
      <span className="sr-only" role="status">
        hearing {heardNow(comparing)}
      </span>
      <span className="flex flex-wrap gap-x-3 gap-y-1 text-small">
        {blind ? (
          <button type="button" className="link" onClick={showWhich}>
            Reveal
          </button>
        ) : (
          <button type="button" className="link" disabled={!table} onClick={hideWhich}>
            Blind test
          </button>
        )}
        {!blind && (
          <>
            <button
              type="button"
              className="link"
              title="The whole kit, or its routing only"
              onClick={() => void compareWith({ moment, routing: !routing })}
            >
              {routing ? 'Compare the whole kit' : 'Compare routing only'}
            </button>
            <button type="button" className="link" title="One edit; undo reverts it" onClick={() => void goBack()}>
              Restore B
            </button>
          </>
        )}
        <button type="button" className="link" onClick={() => void compareWith(null)}>
          End
        </button>
      </span>
    </section>
  );
}
