/** Suggested notes for sounds without a drum's name, with the reasons; they can be played at once. */
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { Play } from 'lucide-react';
import { useNavigate } from 'react-router';
import { useKit } from '../kit/kitStore';
import { strikeNote } from '../playing/door';
import { PlayGroove } from '../playing/PlayGroove';
import { useSingleSounds } from './singleSounds';

export function PlacedBySound() {
  const proposed = useSingleSounds((s) => s.proposed);
  const undone = useKit((s) => s.kit?.undo);
  const kit = useKit((s) => s.kit?.id);
  const names = useKit((s) => s.kit?.head.note_names) ?? [];
  const navigate = useNavigate();
  const close = () => useSingleSounds.setState({ proposed: [] });
  return (
    <Dialog open={proposed.length > 0} onClose={close} className="relative z-40">
      <div className="fixed inset-0 grid place-items-center bg-black/40 p-4">
        <DialogPanel className="card flex max-h-[80vh] w-full max-w-[620px] flex-col gap-3">
          <DialogTitle as="h2" className="text-[16px]">
            Placed by sound
          </DialogTitle>
          <p className="text-soft">
            No file name says which drum it is, so this is a guess: each sound is on the note where the standard map has
            the drum it resembles most. Listen, and move what is wrong.
          </p>
          <ul aria-label="Notes of the sounds" className="grid gap-px overflow-y-auto">
            {proposed.map(({ articulation, name, note, said }) => (
              <li key={articulation} className="flex items-center gap-2.5 border-b border-line py-1">
                <button
                  type="button"
                  className="grid size-7 shrink-0 place-items-center rounded-md text-soft hover:bg-sunk hover:text-ink"
                  aria-label={`Strike ${name}`}
                  onClick={() => strikeNote(note, 100)}
                >
                  <Play size={13} />
                </button>
                <b className="w-[150px] shrink-0 truncate font-semibold">{name}</b>
                <span className="min-w-0 grow text-small text-soft">{said}</span>
                <span className="tag">{names[note]}</span>
                <span className="num w-6 text-right text-faint">{note}</span>
              </li>
            ))}
          </ul>
          <div className="flex flex-wrap justify-end gap-2">
            <PlayGroove />
            <span className="grow" />
            <button
              type="button"
              className="btn"
              disabled={!undone}
              onClick={() => {
                close();
                void useKit.getState().undo();
              }}
            >
              Undo
            </button>
            <button
              type="button"
              className="btn"
              onClick={() => {
                close();
                navigate(`/kits/${kit}/notes`);
              }}
            >
              Move them
            </button>
            <button type="button" className="btn btn-go" onClick={close}>
              Keep
            </button>
          </div>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
