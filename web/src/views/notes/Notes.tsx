/** Notes: decide what plays each stroke. All 128 at once, so that free notes are as visible as taken ones. */
import {
  DndContext,
  type DragEndEvent,
  DragOverlay,
  PointerSensor,
  pointerWithin,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { type PointerEvent, useState } from 'react';
import type { Edit, KitState } from '../../api/calls';
import { FindingsHere } from '../../app/Findings';
import { articulationIn, notesOf, useKit } from '../../app/kitStore';
import { usePlace } from '../../app/place';
import { useStrikes } from '../../app/strikes';
import { Pick } from '../../ui/Pick';

const SHARP = new Set([1, 3, 6, 8, 10]);

interface Dragged {
  articulation: string;
  from: number | null;
}

type PutOnNote = Extract<Edit, { kind: 'put_on_note' }>;

export default function Notes() {
  const kit = useKit((s) => s.kit) as KitState;
  const pieces = useKit((s) => s.pieces);
  const edit = useKit((s) => s.edit);
  const [selected, setSelected] = useState<number | null>(null);
  const [holding, setHolding] = useState<string | null>(null);
  const [dragged, setDragged] = useState<Dragged | null>(null);
  const [asking, setAsking] = useState<{ edit: PutOnNote; sentence: string } | null>(null);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }));

  const put = async (
    articulation: string,
    note: number,
    from: number | null,
    answer: PutOnNote['when_occupied'] = null,
  ) => {
    const asked: PutOnNote = { kind: 'put_on_note', articulation, note, from_note: from, when_occupied: answer };
    const refused = await edit(asked);
    if (refused?.occupied) setAsking({ edit: asked, sentence: refused.message });
    else setHolding(null);
    setSelected(note);
  };
  const drop = (event: DragEndEvent) => {
    const what = event.active.data.current as Dragged;
    setDragged(null);
    if (event.over) void put(what.articulation, Number(event.over.id), what.from);
  };
  const nameOf = (id: string) => {
    const found = articulationIn(pieces, id);
    return found ? `${found.piece.name} · ${found.stroke.name}` : id;
  };

  return (
    <DndContext
      sensors={sensors}
      collisionDetection={pointerWithin}
      onDragStart={(event) => setDragged(event.active.data.current as Dragged)}
      onDragEnd={drop}
      onDragCancel={() => setDragged(null)}
    >
      <div className="grid min-h-0 grid-cols-[208px_minmax(0,1fr)_264px] max-[1180px]:grid-cols-[180px_minmax(0,1fr)_212px]">
        <ArticulationList holding={holding} onHold={setHolding} />
        <main className="flex min-h-0 flex-col gap-2 overflow-auto px-[18px] py-3">
          <div className="flex flex-wrap items-center gap-2.5">
            <h1>Notes</h1>
            <span className="text-soft">
              {holding
                ? `Press the note for ${nameOf(holding)}, or Escape`
                : 'Drag a stroke to a note. Press a note to hear it: low in the cell is soft, high is hard.'}
            </span>
            <span className="grow" />
            <Pick
              label="Middle C is"
              value={kit.head.middle_c}
              options={[3, 4, 5].map((octave) => ({ value: octave, name: `Middle C is C${octave}` }))}
              onChange={(octave) => void edit({ kind: 'set_middle_c', octave })}
            />
          </div>
          <Sheet
            selected={selected}
            onSelect={setSelected}
            holding={holding}
            onPut={(note) => holding && void put(holding, note, null)}
            onCancel={() => setHolding(null)}
          />
          <p className="flex flex-wrap gap-x-5 text-tiny text-soft">
            <span>Faint names: what the General MIDI percussion map expects there</span>
            <span>
              <i className="mr-1.5 inline-block h-3 w-1 bg-plum align-middle" />
              two or more strokes
            </span>
            <span>{128 - new Set(kit.head.placed.map((p) => p.note)).size} notes free</span>
          </p>
        </main>
        <aside
          className="grid grid-cols-[minmax(0,1fr)] content-start gap-4 overflow-y-auto border-l border-line bg-side p-3.5"
          aria-label="Note"
        >
          <NoteDetail note={selected} />
          <FindingsHere belongs={(f) => f.where.step === 'notes'} />
        </aside>
      </div>
      <DragOverlay dropAnimation={null}>
        {dragged && <span className="btn border-plum bg-plum-wash shadow-lg">{nameOf(dragged.articulation)}</span>}
      </DragOverlay>
      <Dialog open={asking !== null} onClose={() => setAsking(null)} className="relative z-50">
        <div className="fixed inset-0 grid place-items-center bg-black/40 p-4">
          <DialogPanel className="card grid max-w-[430px] gap-3">
            <DialogTitle as="h2">This note plays something already</DialogTitle>
            <p className="text-soft">{asking?.sentence}</p>
            <span className="flex flex-wrap justify-end gap-2">
              <button type="button" className="btn" onClick={() => setAsking(null)}>
                Leave it
              </button>
              {(['stack', 'take_over'] as const).map((answer) => (
                <button
                  key={answer}
                  type="button"
                  className={`btn ${answer === 'stack' ? 'btn-go' : ''}`}
                  onClick={() => {
                    const asked = asking?.edit;
                    setAsking(null);
                    if (asked) void put(asked.articulation, asked.note, asked.from_note ?? null, answer);
                  }}
                >
                  {answer === 'stack' ? 'Stack both' : 'Take the note over'}
                </button>
              ))}
            </span>
          </DialogPanel>
        </div>
      </Dialog>
    </DndContext>
  );
}

function ArticulationList({ holding, onHold }: { holding: string | null; onHold: (id: string | null) => void }) {
  const kit = useKit((s) => s.kit) as KitState;
  const pieces = useKit((s) => s.pieces);
  return (
    <aside className="overflow-y-auto border-r border-line px-2.5 py-3" aria-label="Articulations">
      <h3 className="mx-1.5 mb-1 flex justify-between">
        <span>Articulations</span>
        <span>note</span>
      </h3>
      {kit.order.map((id) => {
        const piece = pieces.get(id);
        return (
          piece && (
            <div key={id} className="mb-1.5">
              <b className="px-1.5 font-semibold">{piece.name}</b>
              {piece.articulations.map((stroke) => (
                <DraggableStroke
                  key={stroke.id}
                  id={stroke.id}
                  name={stroke.name}
                  holding={holding === stroke.id}
                  onHold={onHold}
                />
              ))}
            </div>
          )
        );
      })}
    </aside>
  );
}

function DraggableStroke(props: { id: string; name: string; holding: boolean; onHold: (id: string | null) => void }) {
  const kit = useKit((s) => s.kit) as KitState;
  const { setNodeRef, listeners } = useDraggable({
    id: `list ${props.id}`,
    data: { articulation: props.id, from: null },
  });
  const notes = notesOf(kit, props.id);
  return (
    <button
      ref={setNodeRef}
      {...listeners}
      type="button"
      aria-pressed={props.holding}
      title="Drag to a note, or press and then choose a note"
      data-articulation={props.id}
      onClick={() => props.onHold(props.holding ? null : props.id)}
      className={`flex w-full cursor-grab items-center justify-between gap-2 rounded-md py-[2px] pr-1 pl-3.5 text-left text-soft ${
        props.holding ? 'bg-plum-wash text-ink' : 'hover:bg-sunk'
      }`}
    >
      <span className="truncate">{props.name}</span>
      <span className="flex gap-1">
        {notes.length ? (
          notes.map((note) => (
            <span key={note} className="tag">
              {kit.head.note_names[note]}
            </span>
          ))
        ) : (
          <span className="tag border-amber-line bg-amber-wash">–</span>
        )}
      </span>
    </button>
  );
}

interface SheetProps {
  selected: number | null;
  onSelect: (note: number) => void;
  holding: string | null;
  onPut: (note: number) => void;
  onCancel: () => void;
}

function Sheet(props: SheetProps) {
  const kit = useKit((s) => s.kit) as KitState;
  const names = ['C', 'C♯', 'D', 'D♯', 'E', 'F', 'F♯', 'G', 'G♯', 'A', 'A♯', 'B'];
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: Escape lets go of what is held
    <div
      className="grid grid-cols-[30px_repeat(12,minmax(0,1fr))] gap-[3px]"
      onKeyDown={(event) => {
        if (event.key === 'Escape' && props.holding) {
          event.stopPropagation();
          props.onCancel();
        }
      }}
    >
      <span />
      {names.map((name) => (
        <span key={name} className="num text-center text-faint">
          {name}
        </span>
      ))}
      {Array.from({ length: 11 }, (_, row) => {
        const octave = 10 - row;
        return [
          <span key={`octave ${octave}`} className="num self-center text-right text-faint">
            {kit.head.note_names[octave * 12]}
          </span>,
          ...names.map((_, semitone) => {
            const note = octave * 12 + semitone;
            return note < 128 ? <NoteCell key={note} note={note} {...props} /> : <span key={note} />;
          }),
        ];
      })}
    </div>
  );
}

function NoteCell({ note, selected, onSelect, holding, onPut }: { note: number } & SheetProps) {
  const kit = useKit((s) => s.kit) as KitState;
  const pieces = useKit((s) => s.pieces);
  const player = useKit((s) => s.player);
  const lit = useStrikes((s) => (s.last?.note === note ? s.last.at : 0));
  const { setNodeRef, isOver } = useDroppable({ id: String(note) });
  const here = kit.head.placed.filter((p) => p.note === note);
  const strokes = [...new Set(here.map((p) => p.articulation))];
  const drag = useDraggable({
    id: `note ${note}`,
    data: { articulation: strokes[0], from: note },
    disabled: strokes.length !== 1,
  });
  const first = strokes[0] ? articulationIn(pieces, strokes[0]) : null;
  const sections = here.some((p) => p.open_from > 0 || p.open_to < 127);
  const others = new Set(strokes.map((id) => id.split('/')[0])).size > 1;
  const strike = (velocity: number) => {
    onSelect(note);
    if (holding) onPut(note);
    else player?.strike('notes', note, velocity);
  };
  const press = (event: PointerEvent<HTMLButtonElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    strike(Math.max(1, Math.min(127, Math.round(((box.bottom - event.clientY) / box.height) * 127))));
  };
  const name = kit.head.note_names[note];
  const shownName = first ? (sections && !others ? 'by pedal' : others ? 'stacked' : first.stroke.name) : null;
  return (
    <button
      ref={(node) => {
        setNodeRef(node);
        drag.setNodeRef(node);
      }}
      {...drag.listeners}
      type="button"
      data-note={note}
      aria-pressed={selected === note}
      aria-label={`${name} ${note}: ${first ? strokes.map((id) => id.replace('/', ' ')).join(', ') : 'free'}`}
      onClick={(event) => {
        if (event.detail === 0) strike(100);
        else press(event as unknown as PointerEvent<HTMLButtonElement>);
      }}
      className={`relative flex h-[47px] min-w-0 flex-col items-start justify-start overflow-hidden rounded-[7px] border pt-px pr-0.5 pl-[7px] text-left leading-[13.5px] ${
        lit
          ? 'border-plum bg-plum-wash'
          : isOver
            ? 'border-zest bg-zest-wash'
            : first
              ? 'border-edge bg-card'
              : SHARP.has(note % 12)
                ? 'border-line bg-sunk/60'
                : 'border-line bg-card/60'
      } ${selected === note ? 'outline-2 outline-ink outline-solid' : ''}`}
      data-lit={lit || undefined}
      data-over={isOver || undefined}
    >
      {first && (
        <i
          className={`absolute inset-y-0 left-0 w-[3.5px] ${strokes.length > 1 ? 'bg-plum' : 'bg-[var(--v4)]'}`}
          aria-hidden="true"
        />
      )}
      <span className="num block text-[11.5px] leading-[14px] text-faint">{note}</span>
      {first ? (
        <>
          <span className="block w-full truncate text-tiny font-semibold tracking-tight">{first.piece.name}</span>
          <span className="block w-full truncate text-[11.5px] tracking-tight text-soft">{shownName}</span>
        </>
      ) : (
        <span className="line-clamp-2 block w-full text-[11.5px] leading-[13px] tracking-tight text-faint [overflow-wrap:anywhere]">
          {kit.head.standard_names[note]}
        </span>
      )}
    </button>
  );
}

function NoteDetail({ note }: { note: number | null }) {
  const kit = useKit((s) => s.kit) as KitState;
  const pieces = useKit((s) => s.pieces);
  const edit = useKit((s) => s.edit);
  const last = useStrikes((s) => s.last);
  const lookAt = usePlace((s) => s.lookAt);
  const shown = note ?? last?.note ?? null;
  if (shown === null) {
    return (
      <section>
        <h3>Note</h3>
        <p className="text-small text-soft">Press a note, or hit a pad: the note that comes in is lit on the sheet.</p>
      </section>
    );
  }
  const here = kit.head.placed.filter((p) => p.note === shown);
  return (
    <section className="grid gap-2" aria-label="What this note plays">
      <h3>
        On {kit.head.note_names[shown]} · {shown}
      </h3>
      {here.length === 0 && (
        <p className="text-small text-soft">
          Free.{' '}
          {kit.head.standard_names[shown]
            ? `The standard map expects ${kit.head.standard_names[shown]?.toLowerCase()} here.`
            : ''}
        </p>
      )}
      {here.map((placed) => {
        const found = articulationIn(pieces, placed.articulation);
        if (!found) return null;
        const stops = found.stroke.silences
          .map((s) => articulationIn(pieces, s.articulation)?.stroke.name)
          .filter(Boolean);
        return (
          <div key={placed.articulation} className="card grid gap-1 px-3 py-2">
            <button
              type="button"
              className="text-left font-semibold"
              onClick={() => lookAt({ articulation: placed.articulation })}
            >
              {found.piece.name} · {found.stroke.name}
            </button>
            {(placed.open_from > 0 || placed.open_to < 127) && (
              <span className="text-small text-soft">
                while the pedal stands at{' '}
                <span className="num">
                  {placed.open_from}–{placed.open_to}
                </span>{' '}
                (CC 4)
              </span>
            )}
            {stops.length > 0 && <span className="text-small text-soft">stops {stops.join(' and ')}</span>}
            <button
              type="button"
              className="link justify-self-start text-small"
              onClick={() => void edit({ kind: 'take_off_note', articulation: placed.articulation, note: shown })}
            >
              Take it off this note
            </button>
          </div>
        );
      })}
    </section>
  );
}
