/** Deleting for good: says first what that frees and what stays. */
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { post } from '../../api/calls';
import { count } from '../../app/kit/format';
import { bytes } from './bytes';
import { type Thing, useChosen } from './chosen';
import { tell, useDoing } from './doing';

export function Removing({ things, onClose }: { things: Thing[]; onClose: () => void }) {
  const doing = useDoing();
  const [sessions, setSessions] = useState(false);
  const asked = { things: things.map(({ kind, id }) => ({ kind, id })), sessions };
  const { data, error } = useQuery({
    queryKey: ['freed', ...asked.things.map(({ kind, id }) => `${kind}/${id}`), sessions],
    queryFn: () => post('/api/library/freed', {}, asked),
    staleTime: 0,
    placeholderData: (before) => before,
  });
  const which = things.length === 1 ? `“${things[0]?.name}”` : count(things.length, 'thing');
  const freed = !data
    ? 'Calculating the space it frees…'
    : data.files
      ? `That frees ${count(data.files, 'recording')}, ${bytes(data.bytes)}, used by nothing else.`
      : data.held
        ? `That frees no space: all of its ${count(data.held, 'recording')} are used elsewhere.`
        : 'It has no recordings.';
  const removeAll = async () => {
    onClose();
    const told = await doing(() => post('/api/library/remove', {}, asked));
    if (!told) return;
    tell([told.said, ...told.refused].join(' '), told.refused.length > 0);
    useChosen.setState({ looked: null, several: new Map() });
  };
  return (
    <Dialog open onClose={onClose} className="relative z-50">
      <div className="fixed inset-0 grid place-items-center bg-black/40 p-4">
        <DialogPanel className="card grid max-w-[460px] gap-3">
          <DialogTitle as="h2">Delete {which} for good?</DialogTitle>
          <p role="status">{error ? error.message : freed}</p>
          {data && data.sessions.length > 0 && (
            <label className="flex items-start gap-2 text-small">
              <input
                type="checkbox"
                className="mt-0.5"
                checked={sessions}
                onChange={(event) => setSessions(event.target.checked)}
              />
              <span>
                Also delete the recordings of {data.sessions.join(', ')}, which no other kit uses. If you keep them, a
                kit can be made from them again.
              </span>
            </label>
          )}
          <p className="text-small text-soft">
            This cannot be undone. Move it to the bin instead to be able to restore it.
          </p>
          <span className="flex justify-end gap-2">
            <button type="button" className="btn" onClick={onClose}>
              Cancel
            </button>
            <button type="button" className="btn btn-go" onClick={() => void removeAll()}>
              Delete for good
            </button>
          </span>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
