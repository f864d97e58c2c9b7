/** Notes: which note plays which articulation. All 128 are visible, so that free notes can be seen. */
import {
  DndContext,
  type DragEndEvent,
  DragOverlay,
  PointerSensor,
  pointerWithin,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { Search } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import type { KitState } from '../../api/calls';
import { FindingsHere } from '../../app/findings/Findings';
import { articulationIn, useKit } from '../../app/kit/kitStore';
import { Pick } from '../../ui/Pick';
import { ArticulationList } from './ArticulationList';
import { Chokes } from './Chokes';
import { answerOf, type PickedUp, useHolding } from './holding';
import { Maps } from './Maps';
import { NoteDetail } from './NoteDetail';
import { Openness } from './Openness';
import { Sheet } from './Sheet';
import { SoundsLanded } from './SoundsLanded';
import { useSoundsHere } from './soundsHere';
import { TeachButton, Teaching } from './Teaching';
import { useTeaching } from './teachingState';

const SIDES = ['Note', 'Pedal', 'Chokes'] as const;

export default function Notes() {
  const kit = useKit((s) => s.kit) as KitState;
  const edit = useKit((s) => s.edit);
  const { held, put, hold, selected } = useHolding();
  const [dragged, setDragged] = useState<PickedUp | null>(null);
  const [used, setUsed] = useState(false);
  const [wanted, setWanted] = useState('');
  const [side, setSide] = useState<(typeof SIDES)[number]>('Note');
  const teaching = useTeaching((s) => s.lessons !== null);
  const keys = useModifiers();
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }));
  const name = useNameOf();
  useEffect(() => {
    // Escape first drops what is picked up.
    const letGo = (event: KeyboardEvent) => {
      if (event.key !== 'Escape' || !useHolding.getState().held) return;
      event.stopPropagation();
      useHolding.getState().hold(null);
    };
    window.addEventListener('keydown', letGo, true);
    return () => {
      window.removeEventListener('keydown', letGo, true);
      useHolding.setState({ held: null, asking: null });
    };
  }, []);

  const drop = (event: DragEndEvent) => {
    const what = event.active.data.current as PickedUp;
    setDragged(null);
    if (event.over && Number(event.over.id) !== what.from)
      void put(what, Number(event.over.id), answerOf(keys.current));
  };
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={pointerWithin}
      onDragStart={(event) => setDragged(event.active.data.current as PickedUp)}
      onDragEnd={drop}
      onDragCancel={() => setDragged(null)}
    >
      <div className="panes grid min-h-0 grid-cols-[196px_minmax(0,1fr)_276px] max-[1180px]:grid-cols-[164px_minmax(0,1fr)_236px]">
        <ArticulationList wanted={wanted} />
        <main className="flex min-h-0 flex-col gap-2 overflow-auto px-[18px] py-3">
          <div className="flex flex-wrap items-center gap-2">
            <h1>Notes</h1>
            <span className="flex gap-1" role="group" aria-label="Which notes">
              <button
                type="button"
                className="chip"
                title="Show all 128 notes"
                aria-pressed={!used}
                onClick={() => setUsed(false)}
              >
                All 128
              </button>
              <button
                type="button"
                className="chip"
                title="Show only octaves with notes that play something"
                aria-pressed={used}
                onClick={() => setUsed(true)}
              >
                Only used
              </button>
            </span>
            <label className="relative">
              <Search size={13} className="absolute top-[8px] left-2 text-faint" aria-hidden="true" />
              <input
                type="search"
                aria-label="Find an articulation or a note"
                placeholder="Find"
                className="w-[132px] rounded-lg border border-line bg-card py-1 pr-1.5 pl-6.5 text-small max-[1180px]:w-[104px]"
                value={wanted}
                onChange={(event) => setWanted(event.target.value)}
                onKeyDown={(event) => {
                  if (event.key === 'Escape') setWanted('');
                  if (event.key === 'Enter') document.querySelector<HTMLElement>('[data-note][data-found]')?.focus();
                }}
              />
            </label>
            <span className="grow" />
            <Pick
              label="Middle C is"
              value={kit.head.middle_c}
              options={[3, 4, 5].map((octave) => ({ value: octave, name: `Middle C: C${octave}` }))}
              onChange={(octave) => void edit({ kind: 'set_middle_c', octave })}
            />
            <Maps />
            <TeachButton />
          </div>
          <SoundsLanded />
          <Sheet wanted={wanted} onlyUsed={used} />
          <p className="flex flex-wrap gap-x-4 gap-y-0.5 text-tiny text-soft" aria-live="polite">
            {held ? (
              <span className="flex items-center gap-2">
                <b className="font-semibold text-plum">{name(held)} is picked up: choose a note, then</b>
                <button
                  type="button"
                  className="btn px-2 py-0.5"
                  disabled={selected === null}
                  title="Shift+Enter on a note"
                  onClick={() => selected !== null && void put(held, selected)}
                >
                  {selected === null ? 'put it there' : `put it on ${kit.head.note_names[selected]} ${selected}`}
                </button>
                <button type="button" className="btn px-2 py-0.5" title="Escape" onClick={() => hold(null)}>
                  let go
                </button>
              </span>
            ) : dragged ? (
              <span>On a note in use: Shift stacks, Ctrl replaces, Alt swaps; without a key you are asked</span>
            ) : (
              <>
                <span>Faint names are from the standard map</span>
                <span>
                  <i className="mr-1.5 inline-block h-3 w-1 bg-plum align-middle" />
                  stacked
                </span>
                <span>
                  <i className="mr-1.5 inline-block h-1.5 w-1.5 rounded-full bg-leaf align-middle" />
                  not as {kit.head.base_name} has it
                </span>
                <span>In a cell, soft is low and hard is high</span>
                <span className="ml-auto num">{128 - new Set(kit.head.placed.map((p) => p.note)).size} free</span>
              </>
            )}
          </p>
        </main>
        <aside
          className="grid grid-cols-[minmax(0,1fr)] content-start gap-4 overflow-y-auto border-l border-line bg-side p-3.5"
          aria-label="Note"
        >
          {teaching ? (
            <Teaching />
          ) : (
            <>
              <div className="flex gap-1" role="group" aria-label="What is shown here">
                {SIDES.map((one) => (
                  <button
                    key={one}
                    type="button"
                    className="chip"
                    aria-pressed={side === one}
                    onClick={() => setSide(one)}
                  >
                    {one}
                  </button>
                ))}
              </div>
              {side === 'Note' ? <NoteDetail /> : side === 'Pedal' ? <Openness /> : <Chokes />}
            </>
          )}
          <FindingsHere step="notes" belongs={(f) => f.where.step === 'notes' || f.rule === 'label_names_other_note'} />
        </aside>
      </div>
      <DragOverlay dropAnimation={null}>
        {dragged && <span className="btn border-plum bg-plum-wash shadow-lg">{name(dragged)}</span>}
      </DragOverlay>
      <Asking />
      <AskingOfSounds />
    </DndContext>
  );
}

/** What is picked up, in words. */
function useNameOf() {
  const kit = useKit((s) => s.kit) as KitState;
  const pieces = useKit((s) => s.pieces);
  return (held: PickedUp) => {
    if (held.articulation === null) return `what ${kit.head.note_names[held.from]} plays`;
    const found = articulationIn(pieces, held.articulation);
    return found ? `${found.piece.name} · ${found.articulation.name}` : held.articulation;
  };
}

/** The modifier keys at this moment: a drag needs them where it ends, not where it began. */
function useModifiers() {
  const keys = useRef({ shift: false, ctrl: false, alt: false });
  useEffect(() => {
    const follow = (event: KeyboardEvent | PointerEvent) => {
      keys.current = { shift: event.shiftKey, ctrl: event.ctrlKey || event.metaKey, alt: event.altKey };
    };
    const all = ['keydown', 'keyup', 'pointermove', 'pointerup'] as const;
    for (const kind of all) window.addEventListener(kind, follow, true);
    return () => {
      for (const kind of all) window.removeEventListener(kind, follow, true);
    };
  }, []);
  return keys;
}

const ANSWERS = [
  { id: 'stack', name: 'Stack both' },
  { id: 'take_over', name: 'Replace' },
  { id: 'change_places', name: 'Swap' },
] as const;

function Asking() {
  const asking = useHolding((s) => s.asking);
  const answer = useHolding((s) => s.answer);
  const moving = asking?.edit.kind === 'move_note' || asking?.edit.from_note != null;
  return <Occupied sentence={asking?.sentence ?? null} moving={moving} keys onAnswer={answer} />;
}

function AskingOfSounds() {
  const asking = useSoundsHere((s) => s.asking);
  const answer = useSoundsHere((s) => s.answer);
  return (
    <Occupied
      sentence={asking?.sentence ?? null}
      moving={false}
      onAnswer={(said) => answer(said === 'change_places' ? null : said)}
    />
  );
}

interface OccupiedProps {
  /** What the note plays; null if there is no question. */
  sentence: string | null;
  /** Whether the articulation comes from a note, so that the two can swap. */
  moving: boolean;
  /** Whether modifier keys can answer in advance. */
  keys?: boolean;
  onAnswer: (answer: (typeof ANSWERS)[number]['id'] | null) => void;
}

function Occupied({ sentence, moving, keys = false, onAnswer }: OccupiedProps) {
  return (
    <Dialog open={sentence !== null} onClose={() => onAnswer(null)} className="relative z-50">
      <div className="fixed inset-0 grid place-items-center bg-black/40 p-4">
        <DialogPanel className="card grid max-w-[470px] gap-3">
          <DialogTitle as="h2">This note is in use</DialogTitle>
          <p className="text-soft">{sentence}</p>
          <span className="flex flex-wrap justify-end gap-2">
            <button type="button" className="btn" onClick={() => onAnswer(null)}>
              Cancel
            </button>
            {ANSWERS.filter((one) => moving || one.id !== 'change_places').map((one) => (
              <button
                key={one.id}
                type="button"
                className={`btn ${one.id === 'stack' ? 'btn-go' : ''}`}
                onClick={() => onAnswer(one.id)}
              >
                {one.name}
              </button>
            ))}
          </span>
          {keys && (
            <p className="text-tiny text-faint">
              Next time: hold Shift to stack, Ctrl to replace{moving ? ', Alt to swap' : ''} as you let go.
            </p>
          )}
        </DialogPanel>
      </div>
    </Dialog>
  );
}
