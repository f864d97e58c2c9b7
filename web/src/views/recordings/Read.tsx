/** What was read: the pieces to build, their takes by velocity layer, and findings. */

import { useState } from 'react';
import { type KitState, post, type Reading, type SessionShown } from '../../api/calls';
import { FindingList } from '../../app/findings/Findings';
import { count } from '../../app/kit/format';
import { useKit } from '../../app/kit/kitStore';
import { useFindings } from '../../app/kit/noticed';
import { useWrite } from '../../app/kit/writes';
import { NextStep } from '../../app/shell/NextStep';
import { layerColour } from '../../ui/colours';
import { Channels } from './Channels';
import { Columns } from './Columns';
import { dragsFile, placeIn, UnreadFiles } from './Placing';
import { Questions } from './Questions';
import { RecordingList } from './RecordingList';

export function MakePieces({ data, session }: { data: Reading; session: SessionShown }) {
  const kit = useKit((s) => s.kit) as KitState;
  const pieces = useKit((s) => s.pieces);
  const { busy, send: make } = useWrite(async () => {
    const asked = { base_version: kit.version, kit: kit.id };
    const made = await post('/api/sessions/{session_id}/pieces', { session_id: session.id }, asked);
    useKit.getState().take(made, kit.id);
  });
  const again = data.articulations.some((articulation) => kit.order.includes(articulation.piece_id));
  const into = session.adds_to ? (pieces.get(session.adds_to)?.name ?? null) : null;
  if (session.adds_to && !into) return null;
  const what = into
    ? `Add ${count(data.takes, 'take')} to ${into}`
    : `Make ${count(data.pieces, 'piece')}${again ? ' again' : ''}`;
  return (
    <button
      type="button"
      className={`btn ${again || into || data.questions.length ? '' : 'btn-go'}`}
      disabled={busy}
      title={again ? 'Builds the pieces of this session again; undo restores what you have now' : undefined}
      onClick={() => void make()}
    >
      {what}
    </button>
  );
}

export function Read({ data }: { data: Reading }) {
  const [articulation, setArticulation] = useState<string | null>(null);
  const kit = useKit((s) => s.kit) as KitState;
  const { findings: ofKit } = useFindings();
  const undoing = useWrite(() => post('/api/sessions/{session_id}/guidance/undo', { session_id: data.id }), {
    changes: ['jobs', 'reading'],
  });
  const made = data.articulations.some((s) => kit.order.includes(s.piece_id));
  const findings = (made ? ofKit : data.findings).filter((f) => !f.ignored);
  return (
    <>
      {data.many_channels > 0 && <Channels data={data} />}
      <Questions data={data} />
      {data.guidance.each_alone ? (
        <p className="card py-2 text-soft">
          These were dropped on notes: every file is a piece by itself, named by it.
        </p>
      ) : (
        <Columns data={data} />
      )}
      {(data.changed.length > 0 || data.can_undo) && (
        <section
          className="flex shrink-0 items-center gap-3 rounded-[10px] bg-leaf-wash px-3 py-1.5 text-small"
          role="status"
          aria-label="What that changed"
        >
          <span className="grow">
            {data.changed.join(' ') || 'Nothing reads differently since the last correction.'}
          </span>
          {data.can_undo && (
            <button
              type="button"
              className="btn px-2 py-0.5"
              title="Read the names as before the last correction"
              disabled={undoing.busy}
              onClick={() => void undoing.send()}
            >
              Undo correction
            </button>
          )}
        </section>
      )}
      <section
        className="flex shrink-0 gap-2 overflow-x-auto pb-1"
        aria-label="Velocity layers × round robins"
        data-testid="articulations"
      >
        {data.articulations.map((grid) => (
          <StrengthGrid
            key={grid.articulation_id}
            name={`${grid.piece} · ${grid.articulation}`}
            sizes={grid.sizes}
            chosen={articulation === grid.articulation_id}
            onChoose={() => setArticulation(articulation === grid.articulation_id ? null : grid.articulation_id)}
            onPlace={(path) => placeIn(data, path, grid.articulation_id)}
          />
        ))}
      </section>
      <RecordingList data={data} articulation={articulation} findings={findings} />
    </>
  );
}

interface StrengthGridProps {
  name: string;
  sizes: number[];
  chosen: boolean;
  onChoose: () => void;
  onPlace: (path: string) => void;
}

function StrengthGrid(props: StrengthGridProps) {
  const [over, setOver] = useState(false);
  const most = Math.max(...props.sizes, 1);
  const row = Math.max(2, Math.min(9, Math.floor(44 / most) - 2));
  return (
    <button
      type="button"
      onClick={props.onChoose}
      onDragOver={(event) => {
        if (!event.dataTransfer.types.includes(dragsFile)) return;
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        setOver(false);
        const path = event.dataTransfer.getData(dragsFile);
        if (path) props.onPlace(path);
      }}
      aria-pressed={props.chosen}
      className={`card flex w-[154px] shrink-0 flex-col justify-start px-3 py-1.5 text-left ${
        over ? 'border-plum bg-plum-wash' : props.chosen ? 'border-ink' : 'hover:border-edge'
      }`}
    >
      <span className="w-full truncate text-small font-semibold">{props.name}</span>
      <span className="mb-1 block text-tiny text-faint">
        {props.sizes.length} × up to {most} takes
      </span>
      <span
        className="grid w-full gap-[2px]"
        style={{ gridTemplateColumns: `repeat(${props.sizes.length}, 1fr)` }}
        aria-hidden="true"
      >
        {Array.from({ length: most }, (_, place) =>
          props.sizes.map((size, column) => (
            <span
              key={`${place} ${column}`}
              className={`rounded-[2px] ${place < size ? '' : 'hatch'}`}
              style={{ height: row, ...(place < size ? { background: layerColour(column, props.sizes.length) } : {}) }}
            />
          )),
        )}
      </span>
    </button>
  );
}

export function Noticed({ data }: { data: Reading | undefined }) {
  const kit = useKit((s) => s.kit) as KitState;
  const { findings: ofKit, checking } = useFindings();
  const made = data?.articulations.some((s) => kit.order.includes(s.piece_id)) ?? false;
  const ids = new Set(data?.articulations.map((s) => s.piece_id));
  const findings = made
    ? ofKit.filter((f) => ['recordings', 'layers'].includes(f.where.step) && (!f.where.piece || ids.has(f.where.piece)))
    : (data?.findings.filter((f) => f.rule !== 'unread') ?? []);
  return (
    <aside
      className="grid grid-cols-[minmax(0,1fr)] content-start gap-2 overflow-y-auto border-l border-line bg-side p-3.5"
      aria-label="Findings"
    >
      <h2 className="head">Check these first</h2>
      {!data && <p className="text-small text-soft">Problems with recordings are listed here once they are read.</p>}
      {data && <UnreadFiles data={data} />}
      {data && !made && findings.length > 0 && (
        <p className="text-small text-soft">Make the pieces, and each of these can be fixed here.</p>
      )}
      {data && !findings.some((f) => !f.ignored) && (
        <p className="text-small text-soft">{made && checking ? 'Checking…' : 'Nothing wrong was noticed.'}</p>
      )}
      <FindingList findings={findings} fixable={made} />
      {made && <NextStep step="recordings" />}
    </aside>
  );
}
