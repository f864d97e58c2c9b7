/** The pieces on offer, grouped by where they are; one can be looked at, or several chosen; also from a file. */

import { useQuery } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { get, type OfferedPiece, postForm } from '../../api/calls';
import { SkinIcon } from '../../ui/Skin';
import { useKit } from '../kit/kitStore';
import { rules } from '../kit/rules';
import { useWrite } from '../kit/writes';
import { untilEnded } from '../shell/jobEnds';
import { chooseAlso, chooseSeveral, isAmong, lookAtPiece, MOST_AT_ONCE, useBringPiece } from './bringing';

export function Offered() {
  const kit = useKit((s) => s.kit?.id) as string;
  const [find, setFind] = useState(useBringPiece.getState().find);
  const source = useBringPiece((s) => s.asked?.source);
  const several = useBringPiece((s) => s.several);
  const { data, error } = useQuery({
    queryKey: ['offered-pieces', kit, find],
    queryFn: () => get('/api/kits/{kit_id}/bring', { kit_id: kit, find }),
    placeholderData: (before) => before,
  });
  const all = data?.flatMap((group) => group.pieces) ?? [];
  const isLooked = (piece: OfferedPiece) =>
    source !== undefined &&
    piece.source.kind === source.kind &&
    piece.source.id === source.id &&
    piece.source.piece === (source.piece ?? '');
  const looked = all.find(isLooked);
  return (
    <section aria-label="Pieces to add" className="flex min-h-0 flex-col gap-2 rounded-[14px] border border-line p-3">
      <input
        type="search"
        aria-label="Find a piece"
        placeholder="Kick, splash, a kit’s name"
        value={find}
        onChange={(event) => setFind(event.target.value)}
        className="h-8 w-full shrink-0 rounded-lg border border-line bg-card px-2.5"
      />
      {find.trim() !== '' && all.length > 1 && all.length <= MOST_AT_ONCE && (
        <button type="button" className="link self-start text-small" onClick={() => void chooseSeveral(all)}>
          Choose all {all.length}
        </button>
      )}
      <div className="min-h-0 grow overflow-y-auto">
        {error && <p className="text-small">{error.message}</p>}
        {data?.length === 0 && <p className="text-small text-soft">Nothing found.</p>}
        {data?.map((group) => (
          <div key={`${group.kind} ${group.name} ${group.pieces[0]?.source.id}`} className="grid gap-px pb-2.5">
            <h2 className="head px-1 pb-0.5">{group.name}</h2>
            {group.pieces.map((piece) => (
              <Row
                key={`${piece.source.id} ${piece.source.piece}`}
                piece={piece}
                of={group.name}
                looked={isLooked(piece)}
                also={isLooked(piece) || isAmong(piece, several)}
                onAlso={() => void chooseAlso(piece, looked)}
              />
            ))}
          </div>
        ))}
      </div>
      <FromFile onCame={setFind} />
    </section>
  );
}

interface RowProps {
  piece: OfferedPiece;
  of: string;
  looked: boolean;
  also: boolean;
  onAlso: () => void;
}

function Row({ piece, of, looked, also, onAlso }: RowProps) {
  return (
    <div className={`flex items-center rounded-lg ${also ? 'bg-sunk' : 'hover:bg-sunk'}`}>
      <button
        type="button"
        aria-pressed={looked}
        onClick={(event) => {
          if (event.ctrlKey || event.metaKey || event.shiftKey) onAlso();
          else void lookAtPiece(piece);
        }}
        className="grid min-w-0 grow grid-cols-[30px_1fr] items-center gap-2 rounded-lg px-1.5 py-1 text-left"
      >
        <SkinIcon layers={piece.summary.layers} takes={piece.summary.takes} size={28} />
        <span className="min-w-0">
          <span className="block truncate leading-tight font-semibold">{piece.name}</span>
          <span className="num text-faint">
            {piece.summary.layers} × {piece.summary.takes}
          </span>
        </span>
      </button>
      <label className="grid size-7 shrink-0 place-items-center" title="Add it together with others (Ctrl+click)">
        <input type="checkbox" aria-label={`Also ${piece.name} of ${of}`} checked={also} onChange={onAlso} />
      </label>
    </div>
  );
}

/** Imports a kit or piece file into the library, where its pieces are then offered. */
function FromFile({ onCame }: { onCame: (find: string) => void }) {
  const input = useRef<HTMLInputElement>(null);
  const [said, setSaid] = useState<string | null>(null);
  const opening = async (file: File) => {
    const form = new FormData();
    form.append('file', file);
    setSaid(`Opening ${file.name}…`);
    const begun = await postForm('/api/kit-files', {}, form);
    const job = await untilEnded(begun.id);
    const name = file.name.replace(/\.[^.]+$/, '');
    if (job.state === 'done') {
      setSaid([`${name} is in the library.`, ...job.problems].join(' '));
      onCame(job.piece ? '' : name);
    } else setSaid(job.message);
  };
  const { busy, send: open } = useWrite(opening, { changes: ['offered-pieces', 'library'], refused: setSaid });
  return (
    <div className="grid shrink-0 gap-1">
      {said && (
        <p role="status" className="text-small text-soft">
          {said}
        </p>
      )}
      <button type="button" className="btn justify-center" disabled={busy} onClick={() => input.current?.click()}>
        From a kit file or piece file…
      </button>
      <input
        ref={input}
        type="file"
        hidden
        accept={`${rules().kit_suffix},${rules().piece_suffix}`}
        data-testid="piece-file-input"
        onChange={(event) => {
          const chosen = event.target.files?.[0];
          event.target.value = '';
          if (chosen) void open(chosen);
        }}
      />
    </div>
  );
}
