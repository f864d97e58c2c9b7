/** Saved curves, and a copied one, to use anywhere in any kit. */
import { ChevronDown } from 'lucide-react';
import type { Curve } from '../../api/calls';
import { BringBack, KeepAs } from '../../app/shelf/OnShelf';
import { useShelf } from '../../app/shelf/shelf';
import { Panel } from '../../ui/Panel';
import { ShapeIcon } from './ShapeIcon';
import { useCopied } from './scopes';

export function SavedCurves({ curve, onChoose }: { curve: Curve; onChoose: (curve: Curve) => void }) {
  const shelf = useShelf('curves');
  const copied = useCopied((s) => s.curve);
  return (
    <Panel
      label="Saved curves"
      buttonClass="btn inline-flex items-center gap-1.5"
      button={
        <>
          Saved curves <ChevronDown size={13} className="text-faint" aria-hidden="true" />
        </>
      }
      className="grid w-[280px] gap-2 p-3"
    >
      {(close) => (
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
              None yet. Save the curve that suits your pads to use it in every kit.
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
                  aria-label={`Delete ${saved.name}`}
                  onClick={() => void shelf.asking(() => shelf.remove(saved))}
                >
                  Delete
                </button>
              </li>
            ))}
          </ul>
          <BringBack shelf={shelf} />
          <KeepAs shelf={shelf} label="Name of the curve" says="Save curve as…" value={curve} />
        </>
      )}
    </Panel>
  );
}
