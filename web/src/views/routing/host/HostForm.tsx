/** A host of the user's own: its outputs, their names, and the first number. */
import { Pencil, Plus, X } from 'lucide-react';
import { useState } from 'react';
import { type CardOf, put } from '../../../api/calls';
import { useKit } from '../../../app/kit/kitStore';
import { limitsOf, within } from '../../../app/kit/rules';
import type { Shelf } from '../../../app/shelf/shelf';
import { Panel } from '../../../ui/Panel';
import { Pick } from '../../../ui/Pick';
import type { Host } from './plans';

type Run = Host['runs'][number];
const FIRST: Run[] = [
  { width: 'stereo', count: 1, called: 'Out', first: 1 },
  { width: 'mono', count: 6, called: 'Ch', first: 3 },
];

export function HostForm({ shelf, card }: { shelf: Shelf<'hosts'>; card: CardOf<'hosts'> | null }) {
  const said = card ? `Change ${card.name}` : 'Add a host of your own';
  return (
    <Panel
      label={said}
      title={said}
      buttonClass="grid size-6 shrink-0 place-items-center rounded hover:bg-sunk"
      button={
        <>
          <span className="sr-only">{said}</span>
          {card ? <Pencil size={13} aria-hidden="true" /> : <Plus size={14} aria-hidden="true" />}
        </>
      }
      className="w-[430px] p-3.5"
    >
      {(close) => <Form shelf={shelf} card={card} onDone={close} />}
    </Panel>
  );
}

interface FormProps {
  shelf: Shelf<'hosts'>;
  card: CardOf<'hosts'> | null;
  onDone: () => void;
}

function Form({ shelf, card, onDone }: FormProps) {
  const edit = useKit((s) => s.edit);
  const routedFor = useKit((s) => s.kit?.head.host);
  const [name, setName] = useState(card?.name ?? '');
  const [runs, setRuns] = useState<Run[]>(card?.value?.runs ?? FIRST);
  const [trouble, setTrouble] = useState<string | null>(null);
  const change = (place: number, part: Partial<Run>) =>
    setRuns(runs.map((run, each) => (each === place ? { ...run, ...part } : run)));
  const keep = async () => {
    const host: Host = { name: name.trim() || 'My host', runs };
    const refused = await shelf.doing(async () => {
      if (!card) await shelf.keep(host.name, host);
      else {
        await put('/api/shelves/hosts/{kept_id}', { kept_id: card.id }, host);
        if (host.name !== card.name) await shelf.rename(card, host.name);
      }
    });
    setTrouble(refused);
    if (refused) return;
    // A kit stores its host's outputs, so the open kit is updated as well.
    if (card && routedFor === card.name) await edit({ kind: 'set_host', host });
    onDone();
  };
  return (
    <form
      className="grid gap-2.5"
      onSubmit={(event) => {
        event.preventDefault();
        void keep();
      }}
    >
      <label className="grid gap-0.5 text-small">
        Name
        <input
          className="rounded-lg border border-edge bg-card px-2 py-1 text-ink"
          maxLength={120}
          placeholder="My host"
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
      </label>
      <ol className="grid gap-2" aria-label="Outputs, in its own order">
        {runs.map((run, place) => (
          <li key={place} className="flex flex-wrap items-center gap-1.5 text-small">
            <Figure
              label={`Run ${place + 1}: how many`}
              value={run.count}
              of="count"
              onValue={(count) => change(place, { count })}
            />
            <Pick
              label={`Run ${place + 1}: width`}
              value={run.width}
              options={[
                { value: 'stereo' as const, name: 'stereo' },
                { value: 'mono' as const, name: 'mono' },
              ]}
              onChange={(width) => change(place, { width })}
            />
            <span>called</span>
            <input
              aria-label={`Run ${place + 1}: called`}
              className="w-[64px] rounded border border-edge bg-card px-1.5 py-0.5 text-ink"
              maxLength={40}
              value={run.called}
              onChange={(event) => change(place, { called: event.target.value })}
            />
            <span>from</span>
            <Figure
              label={`Run ${place + 1}: first number`}
              value={run.first ?? 1}
              of="first"
              onValue={(first) => change(place, { first })}
            />
            {run.width === 'stereo' && (
              <label className="flex items-center gap-1">
                <input
                  type="checkbox"
                  checked={run.by_channel ?? false}
                  onChange={(event) => change(place, { by_channel: event.target.checked })}
                />
                as 1/2
              </label>
            )}
            <button
              type="button"
              className="ml-auto grid size-6 place-items-center rounded hover:bg-sunk disabled:opacity-40"
              aria-label={`Remove run ${place + 1}`}
              disabled={runs.length < 2}
              onClick={() => setRuns(runs.filter((_, each) => each !== place))}
            >
              <X size={13} aria-hidden="true" />
            </button>
          </li>
        ))}
      </ol>
      {trouble && (
        <p role="alert" className="rounded-lg bg-amber-wash px-2.5 py-1.5 text-small">
          {trouble}
        </p>
      )}
      <span className="flex gap-2">
        <button type="submit" className="btn btn-go">
          Save host
        </button>
        <button
          type="button"
          className="btn"
          onClick={() => setRuns([...runs, { width: 'mono', count: 2, called: 'Ch', first: 1 }])}
        >
          Add outputs
        </button>
        {card && (
          <>
            <a className="btn" href={`/api/shelves/hosts/${card.id}/file`} download>
              Save as a file
            </a>
            <button
              type="button"
              className="btn"
              onClick={() => {
                onDone();
                void shelf.asking(() => shelf.remove(card));
              }}
            >
              Delete
            </button>
          </>
        )}
      </span>
    </form>
  );
}

interface FigureProps {
  label: string;
  value: number;
  of: 'count' | 'first';
  onValue: (value: number) => void;
}

function Figure({ label, value, of, onValue }: FigureProps) {
  const { least, most } = limitsOf(`output_run.${of}`);
  return (
    <input
      type="number"
      aria-label={label}
      className="num w-[52px] rounded border border-edge bg-card px-1 py-0.5 text-ink"
      min={least}
      max={most}
      required
      value={value}
      onChange={(event) => onValue(within(`output_run.${of}`, Math.round(event.target.valueAsNumber) || least))}
    />
  );
}
