/** The note sheet: twelve columns, one row per octave. One cell is in the Tab order; arrow keys walk the others. */
import { useDraggable, useDroppable } from '@dnd-kit/core';
import { type KeyboardEvent, memo, type PointerEvent, useMemo, useRef, useState } from 'react';
import type { KitState, NoteShown, Piece, Placed } from '../../api/calls';
import { arrived, carriedBy, holdsPiece } from '../../app/importing/carrying';
import { hyphenable } from '../../app/kit/format';
import { articulationIn, useKit } from '../../app/kit/kitStore';
import { usePlace } from '../../app/kit/place';
import { strikeNote } from '../../app/playing/door';
import { useStrikes } from '../../app/playing/strikes';
import { useHolding } from './holding';
import { dropSounds } from './soundsHere';

const SHARP = new Set([1, 3, 6, 8, 10]);
const NAMES = ['C', 'C♯', 'D', 'D♯', 'E', 'F', 'F♯', 'G', 'G♯', 'A', 'A♯', 'B'];
const STEPS: Record<string, number> = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: 12, ArrowDown: -12 };

export function Sheet({ wanted, onlyUsed }: { wanted: string; onlyUsed: boolean }) {
  const kit = useKit((s) => s.kit) as KitState;
  const pieces = useKit((s) => s.pieces);
  const sheet = useRef<HTMLDivElement>(null);
  const byNote = useMemo(() => {
    const found = new Map<number, Placed[]>();
    for (const placed of kit.head.placed) found.set(placed.note, [...(found.get(placed.note) ?? []), placed]);
    return found;
  }, [kit.head.placed]);
  const stands = useMemo(() => new Map(kit.head.sheet.map((each) => [each.note, each])), [kit.head.sheet]);
  const customised = useMemo(() => new Set(kit.head.customised), [kit.head.customised]);
  const matches = (note: number) => {
    const word = wanted.trim().toLowerCase();
    if (!word) return true;
    const articulations = (byNote.get(note) ?? []).map((p) => p.articulation.replace('/', ' ').replaceAll('-', ' '));
    const plain = kit.head.note_names[note]?.replace('♯', '#').replace('−', '-').toLowerCase();
    const named = (byNote.get(note) ?? []).map((p) => {
      const found = articulationIn(pieces, p.articulation);
      return found ? `${found.piece.name} ${found.articulation.name}` : '';
    });
    return (
      String(note) === word ||
      plain === word ||
      kit.head.note_names[note]?.toLowerCase() === word ||
      [...articulations, ...named, kit.head.standard_names[note] ?? ''].some((name) =>
        name.toLowerCase().includes(word),
      )
    );
  };
  const octaves = Array.from({ length: 11 }, (_, row) => 10 - row).filter(
    (octave) => !onlyUsed || NAMES.some((_, semitone) => byNote.has(octave * 12 + semitone)),
  );
  /** A row is as high as its content: names, or only numbers. */
  const heightOf = (octave: number) => {
    const notes = NAMES.map((_, semitone) => octave * 12 + semitone);
    return notes.some((note) => byNote.has(note) || kit.head.standard_names[note]) ? 'h-[58px]' : 'h-[35px]';
  };
  const walk = (event: KeyboardEvent) => {
    const at = Number((event.target as HTMLElement).getAttribute('data-note') ?? Number.NaN);
    if (Number.isNaN(at)) return;
    const step = STEPS[event.key];
    if (step !== undefined) {
      event.preventDefault();
      let to = at + step;
      while (to >= 0 && to < 128 && !octaves.includes(Math.floor(to / 12))) to += step;
      sheet.current?.querySelector<HTMLElement>(`[data-note="${to}"]`)?.focus();
    } else if (event.key === 'Enter' && event.shiftKey) {
      event.preventDefault();
      const { held, put } = useHolding.getState();
      if (held) void put(held, at);
    } else if (event.key === 'Delete' || event.key === 'Backspace') {
      event.preventDefault();
      const off = [...new Set((byNote.get(at) ?? []).map((p) => p.articulation))];
      if (!off.length) return;
      const edits = off.map((articulation) => ({ kind: 'remove_from_note' as const, articulation, note: at }));
      void useKit.getState().edit({ kind: 'several', said: `Clear ${kit.head.note_names[at]}`, edits });
    }
  };
  if (!octaves.length) return <p className="py-10 text-center text-soft">No note plays anything yet.</p>;
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: arrow keys walk the cells inside
    <div
      ref={sheet}
      className="grid grid-cols-[30px_repeat(12,minmax(0,1fr))] gap-[3px]"
      data-testid="sheet"
      onKeyDown={walk}
    >
      <span />
      {NAMES.map((name) => (
        <span key={name} className="num text-center text-faint">
          {name}
        </span>
      ))}
      {octaves.map((octave) => [
        <span key={`octave ${octave}`} className="num self-center text-right text-faint">
          {kit.head.note_names[octave * 12]}
        </span>,
        ...NAMES.map((_, semitone) => {
          const note = octave * 12 + semitone;
          return note < 128 ? (
            <NoteCell
              key={note}
              note={note}
              name={kit.head.note_names[note] ?? ''}
              standard={kit.head.standard_names[note] ?? ''}
              here={byNote.get(note) ?? NONE}
              stands={stands.get(note)}
              pieces={pieces}
              customised={customised.has(note)}
              found={matches(note)}
              searching={wanted.trim() !== ''}
              height={heightOf(octave)}
            />
          ) : (
            <span key={note} />
          );
        }),
      ])}
    </div>
  );
}

const NONE: Placed[] = [];

interface CellProps {
  note: number;
  name: string;
  standard: string;
  here: Placed[];
  stands: NoteShown | undefined;
  pieces: Map<string, Piece>;
  customised: boolean;
  found: boolean;
  searching: boolean;
  height: string;
}

const NoteCell = memo(function NoteCell(props: CellProps) {
  const { note, name, standard, here, stands, pieces, customised } = props;
  const stacked = stands?.together ?? false;
  const zones = Boolean(stands?.by_pedal.length);
  const lit = useStrikes((s) => (s.last?.note === note ? s.last.at : 0));
  const selected = useHolding((s) => s.selected === note);
  const tabbed = useHolding((s) => (s.selected ?? 36) === note);
  const { setNodeRef, isOver } = useDroppable({ id: String(note) });
  const articulations = [...new Set(here.map((p) => p.articulation))];
  const drag = useDraggable({
    id: `note ${note}`,
    data: { articulation: null, from: note },
    disabled: articulations.length === 0,
  });
  const first = articulations[0] ? articulationIn(pieces, articulations[0]) : null;
  const second = articulations[1] ? articulationIn(pieces, articulations[1]) : null;
  const other = second && (second.piece.id === first?.piece.id ? second.articulation.name : second.piece.name);
  const choose = (velocity: number) => {
    useHolding.getState().select(note);
    if (first) usePlace.getState().lookAt({ articulation: articulations[0] as string });
    strikeNote(note, velocity);
  };
  const press = (event: PointerEvent<HTMLButtonElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    choose(Math.max(1, Math.min(127, Math.round(((box.bottom - event.clientY) / box.height) * 127))));
  };
  const shown = first
    ? stacked
      ? `+ ${articulations.length === 2 ? other : `${articulations.length - 1} more`}`
      : zones
        ? 'hi-hat pedal (CC 4)'
        : first.articulation.name
    : null;
  const playing = articulations
    .map((id) => {
      const found = articulationIn(pieces, id);
      return found ? `${found.piece.name} ${found.articulation.name}` : id;
    })
    .join(', ');
  const [over, setOver] = useState(false);
  const brings = (transfer: DataTransfer) => transfer.types.includes('Files') || holdsPiece(transfer);
  return (
    <button
      onDragOver={(event) => {
        if (!brings(event.dataTransfer)) return;
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        setOver(false);
        if (!brings(event.dataTransfer)) return;
        event.preventDefault();
        event.stopPropagation();
        const carried = carriedBy(event.dataTransfer);
        if (carried) void arrived(carried, 'own', '', note);
        else void dropSounds(event.dataTransfer, note);
      }}
      ref={(node) => {
        setNodeRef(node);
        drag.setNodeRef(node);
      }}
      {...drag.listeners}
      type="button"
      data-note={note}
      tabIndex={tabbed ? 0 : -1}
      aria-pressed={selected}
      title={playing || undefined}
      onFocus={() => useHolding.getState().select(note)}
      onClick={(event) => {
        if (event.detail === 0) choose(100);
        else press(event as unknown as PointerEvent<HTMLButtonElement>);
      }}
      className={`relative flex min-w-0 flex-col items-start justify-start overflow-hidden rounded-[7px] border pt-px pr-0.5 pl-[7px] text-left leading-[13.5px] ${props.height} ${
        lit
          ? 'border-plum bg-plum-wash'
          : isOver || over
            ? 'border-zest bg-zest-wash'
            : first
              ? 'border-edge bg-card'
              : SHARP.has(note % 12)
                ? 'border-line bg-sunk/60'
                : 'border-line bg-card/60'
      } ${selected ? 'outline-2 outline-ink outline-solid' : ''} ${props.found ? '' : 'opacity-30'}`}
      data-lit={lit || undefined}
      data-over={isOver || over || undefined}
      data-found={(props.searching && props.found) || undefined}
      data-customised={customised || undefined}
    >
      {first && (
        <i
          className={`absolute inset-y-0 left-0 w-[3.5px] ${
            stacked ? 'bg-plum' : zones ? 'bg-linear-to-t from-[var(--v6)] to-[var(--v2)]' : 'bg-[var(--v4)]'
          }`}
          aria-hidden="true"
        />
      )}
      {customised && <i className="absolute top-1 right-1 h-1.5 w-1.5 rounded-full bg-leaf" aria-hidden="true" />}
      <span className="sr-only">
        {`${name} ${note}: ${playing || `free${standard ? `, ${standard} by the standard` : ''}`}${customised ? ', customised' : ''}`}
      </span>
      <span className="contents" aria-hidden="true">
        <span className="num block text-[11.5px] leading-[14px] text-faint">{note}</span>
        {first ? (
          <>
            <span className="line-clamp-2 w-full shrink-0 text-tiny leading-[13px] font-semibold tracking-tight [overflow-wrap:anywhere]">
              {hyphenable(first.piece.name)}
            </span>
            <span className="block w-full truncate text-[11.5px] leading-[13px] tracking-tight text-soft">{shown}</span>
          </>
        ) : (
          <span className="line-clamp-3 w-full text-[11.5px] leading-[13px] tracking-tight text-faint [overflow-wrap:anywhere]">
            {standard}
          </span>
        )}
      </span>
    </button>
  );
});
