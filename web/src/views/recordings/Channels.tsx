/** Names the microphones of multi-channel files, once for all of them. */

import { useState } from 'react';
import { post, type Reading } from '../../api/calls';
import { useWrite } from '../../app/kit/writes';

export function Channels({ data }: { data: Reading }) {
  const [names, setNames] = useState<string[]>(
    Array.from({ length: data.many_channels }, (_, i) => data.channels[i] ?? ''),
  );
  const { send: name } = useWrite(
    () => post('/api/sessions/{session_id}/channels', { session_id: data.id }, { names }),
    { changes: ['jobs'] },
  );
  return (
    <form
      className="card shrink-0 py-2.5"
      aria-label="Channels"
      onSubmit={(event) => {
        event.preventDefault();
        void name();
      }}
    >
      <div className="flex items-center gap-2">
        <h2 className="grow">
          Files of {data.many_channels} channels were split into microphones{' '}
          <span className="font-normal text-soft">name them; two neighbours of one name are a stereo pair</span>
        </h2>
        <button type="submit" className="btn btn-go">
          Split by these names
        </button>
      </div>
      <div className="mt-2 grid grid-cols-[repeat(auto-fill,minmax(118px,1fr))] gap-1.5">
        {names.map((name, at) => (
          <input
            key={at}
            aria-label={`Microphone of channel ${at + 1}`}
            placeholder={`Channel ${at + 1}`}
            className="rounded-lg border border-line bg-card px-2 py-1 text-small"
            value={name}
            maxLength={60}
            onChange={(event) => setNames(names.map((n, i) => (i === at ? event.target.value : n)))}
          />
        ))}
      </div>
    </form>
  );
}
