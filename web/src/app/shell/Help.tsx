/** Help, on "?": what this page is for, its keys, and the glossary. */
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { lazy, Suspense, useEffect } from 'react';
import { useLocation } from 'react-router';
import { create } from 'zustand';
import { typing } from './keyboard';
import { STEPS, type StepId } from './steps';

const KEYS: [string, [string, string][]][] = [
  [
    'Everywhere',
    [
      ['Alt+1 … Alt+7', 'the seven steps'],
      ['Ctrl+Z, Ctrl+Shift+Z', 'undo, redo'],
      ['Space', 'start or stop the groove'],
      ['Esc', 'stop all sound; close what is open'],
      ['A S D F G …', 'strike the pads of the simulated kit; Shift for the edge, C for the pedal'],
      ['X', 'switch between A and B in a comparison'],
      ['?', 'help and keys'],
    ],
  ],
  [
    'List of pieces',
    [
      ['Ctrl+C', 'copy the selected piece'],
      ['Ctrl+V', 'paste a piece: here, from another kit, or into the library'],
      ['Alt+↑, Alt+↓', 'move the piece up or down'],
    ],
  ],
  [
    'Layers',
    [
      ['← → ↑ ↓', 'next take; with Shift select several'],
      ['Ctrl+A', 'select all takes of the articulation'],
      ['Enter', 'select the take and hear it'],
      ['Delete', 'disable takes'],
      ['Alt+↑, Alt+↓', 'move takes to the next layer'],
      ['← →', 'on a boundary: move by one velocity; with Alt only this layer’s end'],
    ],
  ],
  [
    'Notes',
    [
      ['← → ↑ ↓', 'next note'],
      ['Enter', 'select the note and hear it'],
      ['Enter', 'on an articulation: pick it up'],
      ['Shift+Enter', 'put it on the note'],
      ['Delete', 'clear the note'],
    ],
  ],
  [
    'Routing',
    [
      ['Enter', 'on a channel’s name: open it'],
      ['Ctrl+Enter, Shift+Enter', 'select that channel too, or all up to it'],
      ['← → ↑ ↓', 'move a band of the EQ'],
      ['Page up, Page down', 'make a band narrower or wider'],
      ['↑ ↓', 'on a bleed cell: more or less; ← → along the row, Ctrl ↑ ↓ to the next row'],
      ['Space', 'on a bleed cell: on or off'],
    ],
  ],
  [
    'Library',
    [
      ['← → ↑ ↓', 'next item; with Shift select several'],
      ['Space', 'hear its preview'],
      ['X', 'select it too'],
      ['Enter', 'open the kit'],
      ['Delete', 'move to the bin'],
    ],
  ],
  [
    'Sliders',
    [
      ['← →', 'one step'],
      ['Page up, Page down', 'a large step'],
      ['Home, End', 'lowest, highest'],
      ['0 … 9', 'type a value'],
    ],
  ],
];

/** Fetched on request, because it is long. */
const Glossary = lazy(() => import('./Glossary'));

/** What each step is for, in three sentences. */
const ABOUT: Record<StepId, string> = {
  recordings:
    'Add a folder of drum recordings; their file names are read into pieces, articulations, velocity layers and round robins. Correct what was read wrongly, column by column. Problems with the recordings are listed with buttons that fix them.',
  layers:
    'Decide which takes play at which velocity. Split, merge and move layers, match take levels, and choose how round robins alternate. Strike the articulation to hear every change.',
  notes:
    'Put articulations on the notes your electronic kit or grooves send. Teach notes by hitting pads, or apply a note map. Set how the hi-hat pedal and chokes work.',
  touch:
    'Shape how hard you have to play. Bend the velocity curve, or fit it to your playing; remove cross-talk and double triggers. Tracking sets how velocity changes level, brightness and attack.',
  routing:
    'Mix the kit and send it to outputs. Channels, buses, treatments, reverbs and bleed are set here; a routing plan gives every piece an output of the host. The line check measures what arrives where.',
  rehearsal:
    'Play the kit with a groove while you change it in any step. Import MIDI files as grooves, set the tempo and loop. Notes that play nothing are listed.',
  delivery:
    'Render stems, one WAV file per output, exactly as you hear them. Save the whole kit with its recordings as one file. Open findings are listed before you deliver.',
};

export const useHelp = create<{ page: 'help' | 'glossary' | null }>(() => ({ page: null }));
const LIBRARY =
  'Everything you have saved is here: kits, pieces, recording sessions, grooves and settings. Find it, hear a preview, describe and tag it, copy it or move it to the bin. Drop recordings anywhere for a new kit.';
const STORAGE =
  'What the studio keeps on the disk, and how much room is left. Back everything up into a folder of this machine. A check reads every file and version, and can repair damage from the last backup.';

const aboutOf = (pathname: string) => {
  const step = STEPS.find(({ id }) => pathname.endsWith(`/${id}`));
  if (step) return { name: step.name, says: ABOUT[step.id] };
  if (pathname.endsWith('/storage')) return { name: 'Storage', says: STORAGE };
  return pathname.startsWith('/kits/') ? null : { name: 'Library', says: LIBRARY };
};

/** Opens the help of the page it is on. */
export const HelpButton = () => (
  <button
    type="button"
    className="btn h-7 w-7 justify-center p-0"
    aria-label="Help"
    title="What this page is for, its keys and the glossary (?)"
    onClick={() => useHelp.setState({ page: 'help' })}
  >
    ?
  </button>
);

const close = () => useHelp.setState({ page: null });

export function Help() {
  const page = useHelp((s) => s.page);
  const { pathname } = useLocation();
  const about = aboutOf(pathname);
  useEffect(() => {
    const down = (event: KeyboardEvent) => {
      if (event.key === '?' && !typing(event.target)) useHelp.setState({ page: 'help' });
    };
    window.addEventListener('keydown', down);
    return () => window.removeEventListener('keydown', down);
  }, []);
  // Keys of this page first, then those that work everywhere.
  const keys = [...KEYS].sort(([a], [b]) => Number(b === about?.name) - Number(a === about?.name));
  return (
    <Dialog open={page !== null} onClose={close} className="relative z-50">
      <div className="fixed inset-0 bg-black/40" aria-hidden="true" />
      <div className="fixed inset-0 grid place-items-center overflow-y-auto p-4">
        <DialogPanel className="grid w-[min(760px,100%)] gap-4 rounded-2xl bg-card p-5 shadow-xl">
          <div className="flex items-baseline gap-3">
            <DialogTitle as="h1" className="grow text-[20px]">
              {page === 'glossary' ? 'Glossary' : (about?.name ?? 'Help')}
            </DialogTitle>
            <button
              type="button"
              className="btn"
              onClick={() => useHelp.setState({ page: page === 'glossary' ? 'help' : 'glossary' })}
            >
              {page === 'glossary' ? 'Help and keys' : 'Glossary'}
            </button>
            <button type="button" className="btn" onClick={close}>
              Close
            </button>
          </div>
          {page === 'glossary' ? (
            <Suspense fallback={<p className="text-soft">Loading…</p>}>
              <Glossary />
            </Suspense>
          ) : (
            <KeysAndMore about={about?.says} keys={keys} />
          )}
        </DialogPanel>
      </div>
    </Dialog>
  );
}

function KeysAndMore({ about, keys }: { about?: string; keys: typeof KEYS }) {
  return (
    <>
      {about && <p className="max-w-[70ch] leading-relaxed">{about}</p>}
      <div className="gap-6 sm:columns-2">
        {keys.map(([where, all]) => (
          <section key={where} className="mb-4 break-inside-avoid">
            <h2 className="mb-1 text-[14px]">{where}</h2>
            <dl className="grid grid-cols-[auto_1fr] gap-x-3 gap-y-1 text-small">
              {all.map(([key, does]) => (
                <div key={key + does} className="contents">
                  <dt className="num font-semibold">{key}</dt>
                  <dd className="text-soft">{does}</dd>
                </div>
              ))}
            </dl>
          </section>
        ))}
      </div>
    </>
  );
}
