/** Recordings on their way: being sent, received, waiting to be read. */

import { Folder } from 'lucide-react';
import { post, type Reading, type SessionShown } from '../../api/calls';
import { count } from '../../app/kit/format';
import { useWrite } from '../../app/kit/writes';

export function Brought({ data }: { data: Reading | undefined }) {
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls and contains nothing focusable
    <aside className="overflow-y-auto border-r border-line px-2.5 py-3" aria-label="Added files" tabIndex={0}>
      <h2 className="head mx-1.5 mb-2 flex justify-between">
        <span>Added files</span>
        <span>{data ? count(data.files, 'file') : ''}</span>
      </h2>
      <ul>
        {data?.folders.map((folder) => (
          <li key={folder.name} className="flex items-center gap-2 px-1.5 py-[5px] font-medium">
            <Folder size={15} className="shrink-0 text-faint" aria-hidden="true" />
            <span className="grow truncate" title={folder.name}>
              {folder.name}
            </span>
            <span className="tag">{folder.files}</span>
          </li>
        ))}
      </ul>
      {data && (
        <>
          <h2 className="head mx-1.5 mt-4 mb-1">Microphones</h2>
          <ul>
            {data.mics.map((mic) => (
              <li key={mic.id} className="flex justify-between gap-2 px-1.5 py-0.5 text-small">
                <span className="truncate">{mic.name}</span>
                <span className="text-faint">
                  {mic.kind}, {mic.width}
                </span>
              </li>
            ))}
          </ul>
        </>
      )}
    </aside>
  );
}

export function CameIn(props: { text: string; refused: { path: string; why: string }[]; onClose: () => void }) {
  return (
    <div className="flex shrink-0 items-start gap-3 rounded-xl bg-amber-wash px-3.5 py-2" role="alert">
      <div className="min-w-0 grow">
        {props.text}
        {props.refused.length > 0 && (
          <ul className="max-h-24 overflow-y-auto text-small">
            {props.refused.slice(0, 200).map((entry) => (
              <li key={entry.path}>{entry.why}</li>
            ))}
          </ul>
        )}
      </div>
      <button type="button" className="btn" onClick={props.onClose}>
        Close
      </button>
    </div>
  );
}

/** Received files that were not read: interrupted or cancelled. */
export function Waiting({ session }: { session: SessionShown }) {
  const { send: read } = useWrite(() => post('/api/sessions/{session_id}/read', { session_id: session.id }), {
    changes: ['jobs'],
  });
  if (!session.files) return null;
  return (
    <p className="card flex shrink-0 items-center gap-3 py-2">
      <span className="grow">
        {count(session.files, 'file')} of “{session.name}” were added. Choose the folder again to continue, or read what
        is here.
      </span>
      <button type="button" className="btn btn-go" onClick={() => void read()}>
        Read what is here
      </button>
    </p>
  );
}
