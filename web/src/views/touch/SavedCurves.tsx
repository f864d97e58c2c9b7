/** Curves kept under a name, and one copied: to be used on anything, in any kit. */
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { ChevronDown } from 'lucide-react';
import { useState } from 'react';
import type { Curve } from '../../api/calls';
import { useKit } from '../../app/kitStore';
import { useShelf } from '../../app/shelf';
import { Named } from '../../ui/Named';
import { ShapeIcon } from './ShapeIcon';
import { useCopied } from './scopes';

export function SavedCurves({ curve, onChoose }: { curve: Curve; onChoose: (curve: Curve) => void }) {
  const shelf = useShelf('curves');
  const copied = useCopied((s) => s.curve);
  const [naming, setNaming] = useState(false);
  const asking = async (act: () => Promise<unknown>) => {
    const refused = await shelf.doing(act);
    if (refused) useKit.getState().say(refused);
  };
  return (
    <Popover>
      <PopoverButton className="btn inline-flex items-center gap-1.5">
        Saved curves <ChevronDown size={13} className="text-faint" aria-hidden="true" />
      </PopoverButton>
      <PopoverPanel
        anchor={{ to: 'bottom end', gap: 6, padding: 12 }}
        className="z-40 grid w-[280px] gap-2 rounded-2xl border border-line bg-card p-3 shadow-xl"
      >
        {({ close }) => (
          <>
            <span className="flex flex-wrap gap-1.5">
              <button type="button" className="btn" onClick={() => useCopied.setState({ curve })} title="Ctrl+C">
                Copy this one
              </button>
              <button
                type="button"
                className="btn"
                disabled={!copied}
                title="Ctrl+V"
                onClick={() => {
                  if (copied) onChoose(copied);
                  close();
                }}
              >
                Paste
              </button>
            </span>
            {shelf.cards.length === 0 && (
              <p className="text-small text-soft">
                None yet. Keep the curve that suits your pads, and use it in every kit.
              </p>
            )}
            <ul className="grid max-h-[300px] overflow-y-auto">
              {shelf.cards.map((saved) => (
                <li key={saved.id} className="flex items-center gap-2">
                  <button
                    type="button"
                    className="flex grow items-center gap-2.5 rounded-lg px-1.5 py-1 text-left hover:bg-sunk"
                    onClick={() => {
                      if (saved.value) onChoose(saved.value);
                      close();
                    }}
                  >
                    {saved.value && <ShapeIcon curve={saved.value} />}
                    {saved.name}
                  </button>
                  <button
                    type="button"
                    className="link text-small"
                    aria-label={`Remove ${saved.name}`}
                    onClick={() => void asking(() => shelf.remove(saved))}
                  >
                    Remove
                  </button>
                </li>
              ))}
            </ul>
            {shelf.gone && (
              <p role="status" className="flex justify-between gap-2 rounded-lg bg-plum-wash px-2.5 py-1.5 text-small">
                {shelf.gone.said}
                <button type="button" className="link" onClick={() => void asking(shelf.bringBack)}>
                  Bring it back
                </button>
              </p>
            )}
            {naming ? (
              <Named
                label="Name of the curve"
                value=""
                onName={(name) => {
                  setNaming(false);
                  if (name) void asking(() => shelf.keep(name, curve));
                }}
              />
            ) : (
              <button type="button" className="btn justify-self-start" onClick={() => setNaming(true)}>
                Keep this curve as…
              </button>
            )}
          </>
        )}
      </PopoverPanel>
    </Popover>
  );
}
