/** The hosts and routing plans, shipped and saved: choose the kit's host, or a plan to apply. */
import { Upload } from 'lucide-react';
import { useRef } from 'react';
import { type CardOf, get, type KitState, post, postForm } from '../../../api/calls';
import { useKit } from '../../../app/kit/kitStore';
import { BringBack } from '../../../app/shelf/OnShelf';
import { type Shelf, useShelf } from '../../../app/shelf/shelf';
import { AsksName } from '../../../ui/AsksName';
import { HeardOn } from './HeardOn';
import { HostForm } from './HostForm';
import { outputsSaid, usePlanShown, usePlans } from './plans';

const ROW = 'grid w-full min-w-0 grid-cols-[30px_minmax(0,1fr)] items-center gap-2 rounded-lg px-1.5 py-1 text-left';

export function HostShelf() {
  return (
    <aside
      className="grid content-start gap-4 overflow-x-hidden overflow-y-auto border-r border-line px-2.5 py-3"
      aria-label="Hosts and plans"
    >
      <Hosts />
      <HeardOn />
      <Plans />
    </aside>
  );
}

function Hosts() {
  const kit = useKit((s) => s.kit) as KitState;
  const edit = useKit((s) => s.edit);
  const shelf = useShelf('hosts');
  const row = (card: CardOf<'hosts'>) => (
    <li key={card.id} className="flex items-center">
      <button
        type="button"
        aria-pressed={kit.head.host === card.name}
        className={`${ROW} ${kit.head.host === card.name ? 'bg-card shadow-[0_0_0_1px_var(--line)]' : 'hover:bg-sunk/60'}`}
        onClick={() => card.value && void edit({ kind: 'set_host', host: card.value })}
      >
        <span className="tag text-center">{card.value?.runs.reduce((sum, run) => sum + run.count, 0)}</span>
        <span className="min-w-0">
          <span className="block truncate leading-tight font-semibold">{card.name}</span>
          <span className="num block truncate text-[11.5px] text-faint">{card.value && outputsSaid(card.value)}</span>
        </span>
      </button>
      {card.ours && card.value && <HostForm shelf={shelf} card={card} />}
    </li>
  );
  return (
    <section className="grid gap-0.5" aria-label="Hosts">
      <h2 className="head mx-1.5 flex justify-between">
        <span>Simulated hosts</span>
      </h2>
      <ul>{shelf.cards.filter((card) => !card.ours).map(row)}</ul>
      <h2 className="head mx-1.5 mt-1.5 flex items-center justify-between">
        <span>Yours</span>
        <span className="flex items-center">
          <FromFile kind="hosts" shelf={shelf} />
          <HostForm shelf={shelf} card={null} />
        </span>
      </h2>
      <ul>{shelf.cards.filter((card) => card.ours).map(row)}</ul>
      <BringBack shelf={shelf} />
    </section>
  );
}

function Plans() {
  const kit = useKit((s) => s.kit) as KitState;
  const { shelf } = usePlans();
  const shown = usePlanShown((s) => s.id);
  const keep = (name: string) =>
    void shelf.asking(async () => {
      const plan = await get('/api/kits/{kit_id}/plan', { kit_id: kit.id });
      const made = await post('/api/shelves/plans', {}, { name, value: plan });
      usePlanShown.setState({ id: made.id });
    });
  return (
    <section className="grid gap-0.5" aria-label="Plans">
      <h2 className="head mx-1.5 flex items-center justify-between">
        <span>Plans</span>
        <FromFile kind="plans" shelf={shelf} />
      </h2>
      <ul>
        {shelf.cards.map((card) => (
          <li key={card.id}>
            <button
              type="button"
              aria-pressed={shown === card.id}
              className={`${ROW} ${shown === card.id ? 'bg-card shadow-[0_0_0_1px_var(--line)]' : 'hover:bg-sunk/60'}`}
              onClick={() => usePlanShown.setState({ id: shown === card.id ? null : card.id, edited: null })}
            >
              <span className="tag text-center">{card.value?.rules.length}</span>
              <span className="min-w-0">
                <span className="block leading-tight font-semibold">{card.name}</span>
                <span className="num text-[11.5px] text-faint">{card.ours ? 'yours' : 'ships'}</span>
              </span>
            </button>
          </li>
        ))}
      </ul>
      <AsksName
        label="Name of the plan"
        says="Save this routing as a plan…"
        className="link mx-1.5 mt-1 justify-self-start text-left text-small"
        onName={keep}
      />
    </section>
  );
}

/** Imports a host or plan file. */
function FromFile<K extends 'plans' | 'hosts'>({ kind, shelf }: { kind: K; shelf: Shelf<K> }) {
  const file = useRef<HTMLInputElement>(null);
  const noun = kind === 'plans' ? 'plan' : 'host';
  const bring = (picked: File | undefined) =>
    picked &&
    void shelf.asking(() => {
      const form = new FormData();
      form.append('file', picked, picked.name);
      return postForm(`/api/shelf-files/${kind}` as '/api/shelf-files/plans', {}, form);
    });
  return (
    <>
      <button
        type="button"
        className="grid size-6 place-items-center rounded hover:bg-sunk"
        aria-label={`Import a ${noun} from a file`}
        title={`Import a ${noun} from a file`}
        onClick={() => file.current?.click()}
      >
        <Upload size={13} aria-hidden="true" />
      </button>
      <input
        ref={file}
        type="file"
        accept=".json"
        className="hidden"
        aria-label={`File of a ${noun}`}
        onChange={(event) => {
          bring(event.target.files?.[0]);
          event.target.value = '';
        }}
      />
    </>
  );
}
