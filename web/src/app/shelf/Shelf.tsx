/** The pieces of the kit, with drawings, notes and outputs; they are made, named, sorted and extended here. */
import { Import, MoreHorizontal, Plus } from 'lucide-react';
import { memo, type ReactNode, useEffect, useRef, useState } from 'react';
import type { KitState, Piece } from '../../api/calls';
import { Actions } from '../../ui/Actions';
import { Named } from '../../ui/Named';
import { SkinIcon } from '../../ui/Skin';
import { openBringPiece } from '../bringing/bringing';
import { arrived, carriedBy, carry, copyLooked, holdsPiece, keptInLibrary } from '../importing/carrying';
import { filesOfDrop, nameOfDrop, useImporting } from '../importing/importing';
import { useKit } from '../kit/kitStore';
import { useFindings } from '../kit/noticed';
import { useLookedAt, usePlace } from '../kit/place';
import { rules } from '../kit/rules';

export function Shelf({ aside }: { aside?: (pieceId: string) => ReactNode }) {
  const kitId = useKit((s) => s.kit?.id);
  const head = useKit((s) => s.kit?.head);
  const order = useKit((s) => s.kit?.order);
  const pieces = useKit((s) => s.pieces);
  const player = useKit((s) => s.player);
  const edit = useKit((s) => s.edit);
  const { piece: looked } = useLookedAt();
  const { findings } = useFindings();
  const [naming, setNaming] = useState<string | null>(null);
  const lookedId = looked?.id ?? null;
  useEffect(() => player?.showing(lookedId), [player, lookedId]);
  if (!head || !order) return null;
  const noticed = new Set(
    findings.filter((f) => f.level !== 'information' && !f.ignored).map((f) => f.where.piece ?? ''),
  );
  return (
    <aside
      className="overflow-y-auto border-r border-line px-2.5 py-3"
      aria-label="Pieces"
      data-shelf
      onDragOver={(event) => holdsPiece(event.dataTransfer) && event.preventDefault()}
      onDrop={(event) => {
        const carried = carriedBy(event.dataTransfer);
        if (!carried) return;
        event.preventDefault();
        if (carried.source.id !== kitId) void arrived(carried);
      }}
    >
      <h2 className="head mx-1.5 mb-2 flex items-center gap-1">
        <span>Pieces</span>
        <button
          type="button"
          className="grid size-6 shrink-0 place-items-center rounded text-faint hover:bg-sunk hover:text-ink"
          aria-label="New piece"
          title="New piece"
          onClick={() => setNaming('')}
        >
          <Plus size={13} />
        </button>
        <button
          type="button"
          className="grid size-6 shrink-0 place-items-center rounded text-faint hover:bg-sunk hover:text-ink"
          aria-label="Add a piece from another kit"
          title="Add a piece from another kit"
          onClick={() => openBringPiece()}
        >
          <Import size={13} />
        </button>
        <span className="grow text-right">{aside ? '' : 'note → out'}</span>
      </h2>
      {order.length === 0 && naming === null && (
        <p className="px-1.5 text-small text-soft">No pieces yet. Add recordings first, or create a piece.</p>
      )}
      <ul className="grid gap-px">
        {order.map((id, place) => {
          const piece = pieces.get(id);
          if (!piece) return null;
          return naming === id ? (
            <li key={id}>
              <Named
                label={`New name of ${piece.name}`}
                value={piece.name}
                className="w-full"
                onName={(name) => {
                  setNaming(null);
                  if (name && name !== piece.name) void edit({ kind: 'set_piece', piece: id, name });
                }}
              />
            </li>
          ) : (
            <Entry
              key={id}
              head={head}
              piece={piece}
              place={place}
              last={place === order.length - 1}
              looked={lookedId === id}
              noticed={noticed.has(id)}
              onRename={setNaming}
              aside={aside}
            />
          );
        })}
        {naming === '' && (
          <li>
            <Named
              label="Name of the new piece"
              value=""
              className="w-full"
              onName={(name) => {
                setNaming(null);
                if (name) void edit({ kind: 'make_piece', name });
              }}
            />
          </li>
        )}
      </ul>
    </aside>
  );
}

const KINDS: Record<Piece['family'], string> = {
  kick: 'kick',
  snare: 'snare',
  hats: 'hats',
  tom: 'tom',
  crash: 'crash',
  ride: 'ride',
  splash: 'splash',
  china: 'china',
  percussion: 'percussion',
  other: 'other',
};

interface EntryProps {
  head: KitState['head'];
  piece: Piece;
  place: number;
  last: boolean;
  looked: boolean;
  noticed: boolean;
  onRename: (piece: string) => void;
  aside: ((pieceId: string) => ReactNode) | undefined;
}

/** Saves a piece under a name; returns a sentence if it was saved, null if that was refused. */
async function keepPiece(piece: string, name: string): Promise<string | null> {
  const { kit, say } = useKit.getState();
  if (!kit) return null;
  try {
    return `Saved to the library as ${await keptInLibrary({ kind: 'kits', id: kit.id, piece }, name)}.`;
  } catch (error) {
    say((error as Error).message);
    return null;
  }
}

/** An edit of one piece must not redraw the others. */
const Entry = memo(function Entry({ piece, head, place, last, looked, noticed, onRename, aside }: EntryProps) {
  const edit = useKit((s) => s.edit);
  const lookAt = usePlace((s) => s.lookAt);
  const bring = useImporting((s) => s.bring);
  const [over, setOver] = useState(false);
  const [keeping, setKeeping] = useState(false);
  const [kept, setKept] = useState<string | null>(null);
  const row = useRef<HTMLLIElement>(null);
  useEffect(() => {
    if (looked) row.current?.scrollIntoView({ block: 'nearest' });
  }, [looked]);
  const { id } = piece;
  const main = piece.articulations[0];
  const layers = main?.layers.length ?? 0;
  const takes = Math.max(0, ...(main?.layers.map((l) => l.takes.length) ?? []));
  const note = head.usual_notes[id];
  const move = (to: number) =>
    to >= 0 && !(last && to > place) && void edit({ kind: 'move_piece', piece: id, place: to });
  return (
    <li
      ref={row}
      className={`group relative rounded-[9px] ${over ? 'outline-2 outline-plum outline-solid' : ''}`}
      draggable
      onDragStart={(event) => {
        const kit = useKit.getState().kit?.id ?? '';
        carry(event.dataTransfer, { source: { kind: 'kits', id: kit, piece: id }, name: piece.name });
      }}
      onDragOver={(event) => {
        if (!event.dataTransfer.types.includes('Files') && !holdsPiece(event.dataTransfer)) return;
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        setOver(false);
        const carried = carriedBy(event.dataTransfer);
        if (carried) {
          event.preventDefault();
          event.stopPropagation();
          const { kind, id: from, piece: dragged } = carried.source;
          // A piece of this kit moves to this position; another kit's piece is offered for replacement.
          if (kind !== 'kits' || from !== useKit.getState().kit?.id) void arrived(carried, 'place', id);
          else if (dragged && dragged !== id) void edit({ kind: 'move_piece', piece: dragged, place });
          return;
        }
        if (!event.dataTransfer.types.includes('Files')) return;
        event.preventDefault();
        event.stopPropagation();
        const name = `${nameOfDrop(event.dataTransfer)} for ${piece.name}`;
        void filesOfDrop(event.dataTransfer).then((files) => bring(files, name, { piece: id }));
      }}
    >
      <button
        type="button"
        aria-current={looked}
        onClick={() => lookAt({ piece: id })}
        onKeyDown={(event) => {
          if (!event.altKey || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return;
          event.preventDefault();
          move(place + (event.key === 'ArrowUp' ? -1 : 1));
        }}
        title={over ? `Drop to add to ${piece.name}` : undefined}
        className={`grid w-full grid-cols-[30px_1fr_auto] items-center gap-2 rounded-[9px] px-1.5 py-[5px] text-left ${
          looked ? 'bg-card shadow-[0_0_0_1px_var(--line),var(--shadow)]' : 'hover:bg-sunk'
        }`}
      >
        <SkinIcon layers={layers} takes={takes} />
        <span className="min-w-0">
          <span className="block truncate leading-tight font-semibold">
            {piece.name}
            {noticed && (
              <i
                className="ml-1.5 inline-block h-1.5 w-1.5 rounded-full bg-amber-line align-middle"
                title="Has findings"
              />
            )}
          </span>
          <span className="num text-faint">
            {layers} × {takes}
          </span>
        </span>
        {aside ? (
          aside(id)
        ) : (
          <span className="flex gap-1">
            <span className="tag">{note === undefined ? '–' : head.note_names[note]}</span>
            <span className="tag">{head.piece_outputs[id]?.[0] ?? '–'}</span>
          </span>
        )}
      </button>
      {!aside && (
        <span className="absolute right-1 bottom-0.5 opacity-0 group-focus-within:opacity-100 group-hover:opacity-100">
          <Actions
            label={`More for ${piece.name}`}
            className="block rounded bg-card p-0.5 text-soft shadow-sm hover:text-ink"
            actions={[
              { name: 'Rename', onChoose: () => onRename(id) },
              { name: 'Move up', hint: 'Alt ↑', disabled: place === 0, onChoose: () => move(place - 1) },
              {
                name: 'Move down',
                hint: 'Alt ↓',
                disabled: last,
                onChoose: () => move(place + 1),
              },
              {
                name: 'Copy',
                hint: 'Ctrl C',
                onChoose: () => {
                  lookAt({ piece: id });
                  copyLooked();
                },
              },
              { name: 'Duplicate', onChoose: () => void edit({ kind: 'duplicate_piece', piece: id }) },
              { name: 'Replace piece…', onChoose: () => openBringPiece('place', id) },
              { name: 'Layer with another piece…', onChoose: () => openBringPiece('together', id) },
              { name: 'Save to library…', onChoose: () => setKeeping(true) },
              { name: `Delete ${piece.name}`, onChoose: () => void edit({ kind: 'remove_piece', piece: id }) },
              ...rules()
                .families.filter((family) => family !== piece.family)
                .map((family) => ({
                  name: `Family: ${KINDS[family]}`,
                  onChoose: () => void edit({ kind: 'set_piece', piece: id, family }),
                })),
            ]}
          >
            <MoreHorizontal size={14} />
          </Actions>
        </span>
      )}
      {keeping && (
        <Named
          label={`Save ${piece.name} to the library as`}
          value={piece.name}
          onName={(name) => {
            setKeeping(false);
            if (name) void keepPiece(id, name).then(setKept);
          }}
        />
      )}
      {kept && (
        <p role="status" className="flex justify-between gap-2 px-1.5 pb-1 text-tiny text-leaf">
          {kept}
          <button type="button" className="link text-tiny" aria-label="Close" onClick={() => setKept(null)}>
            Close
          </button>
        </p>
      )}
    </li>
  );
});
