/** The keys, on "?": what can be done without a pointer. */
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { useEffect, useState } from 'react';
import { typing } from './keyboard';

const KEYS: [string, [string, string][]][] = [
  [
    'Everywhere',
    [
      ['Alt+1 … Alt+7', 'the seven steps'],
      ['Ctrl+Z, Ctrl+Shift+Z', 'undo, redo'],
      ['Space', 'the groove starts and stops'],
      ['Esc', 'silence; closes what is open'],
      ['A S D F G …', 'the pads of the chosen stand-in; with Shift its edges; C its pedal'],
      ['X', 'change between A and B while they are compared'],
      ['?', 'these keys'],
    ],
  ],
  [
    'The shelf of pieces',
    [
      ['Ctrl+C', 'copy the piece that is looked at'],
      ['Ctrl+V', 'a copied piece: of this kit once more, of another to be looked at; in the library it is kept'],
      ['Alt+↑, Alt+↓', 'move a piece up, down'],
    ],
  ],
  [
    'Layers',
    [
      ['← → ↑ ↓', 'from take to take; with Shift several of a row'],
      ['Ctrl+A', 'all takes of the stroke'],
      ['Enter', 'choose the take and hear it'],
      ['Delete', 'leave takes out'],
      ['Alt+↑, Alt+↓', 'move takes to the next layer'],
      ['← →', 'on a boundary: by one velocity; with Alt, this layer’s end alone'],
    ],
  ],
  [
    'Notes',
    [
      ['← → ↑ ↓', 'from note to note'],
      ['Enter', 'look at the note and hear it'],
      ['Enter', 'on a stroke of the list: pick it up'],
      ['Shift+Enter', 'put what is picked up on the note'],
      ['Delete', 'take everything off the note'],
    ],
  ],
  [
    'Routing',
    [
      ['Enter', 'on a lane’s name: open it'],
      ['Ctrl+Enter, Shift+Enter', 'take that lane too, or all up to it'],
      ['← → ↑ ↓', 'move a band of the EQ'],
      ['Page up, Page down', 'make a band narrower, wider'],
      ['↑ ↓', 'on a cell of bleed: more, less; ← → go along its row, with Ctrl ↑ ↓ to the next'],
      ['Space', 'on a cell: let in, or not'],
    ],
  ],
  [
    'Sliders',
    [
      ['← →', 'a step'],
      ['Page up, Page down', 'a large step'],
      ['Home, End', 'its ends'],
      ['0 … 9', 'type a value, where it is shown'],
    ],
  ],
];

export function Keys() {
  const [open, setOpen] = useState(false);
  useEffect(() => {
    const down = (event: KeyboardEvent) => {
      if (event.key === '?' && !typing(event.target)) setOpen(true);
    };
    window.addEventListener('keydown', down);
    return () => window.removeEventListener('keydown', down);
  }, []);
  return (
    <Dialog open={open} onClose={() => setOpen(false)} className="relative z-50">
      <div className="fixed inset-0 bg-black/40" aria-hidden="true" />
      <div className="fixed inset-0 grid place-items-center overflow-y-auto p-4">
        <DialogPanel className="grid w-[min(720px,100%)] gap-4 rounded-2xl bg-card p-5 shadow-xl">
          <DialogTitle as="h1" className="text-[20px]">
            Keys
          </DialogTitle>
          <div className="grid gap-5 sm:grid-cols-2">
            {KEYS.map(([where, keys]) => (
              <section key={where}>
                <h2 className="mb-1 text-[14px]">{where}</h2>
                <dl className="grid grid-cols-[auto_1fr] gap-x-3 gap-y-1 text-small">
                  {keys.map(([key, does]) => (
                    <div key={key + does} className="contents">
                      <dt className="num font-semibold">{key}</dt>
                      <dd className="text-soft">{does}</dd>
                    </div>
                  ))}
                </dl>
              </section>
            ))}
          </div>
          <button type="button" className="btn justify-self-end" onClick={() => setOpen(false)}>
            Close
          </button>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
