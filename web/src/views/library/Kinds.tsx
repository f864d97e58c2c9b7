/** What there is, by kind; the tags of what was found; and how much room it takes. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { NavLink } from 'react-router';
import { get, post, type TagCount } from '../../api/calls';
import { count } from '../../app/format';
import { Panel } from '../../ui/Panel';
import { bytes } from './bytes';
import { useChosen } from './chosen';
import { AWAY, titleOf, useAsked, useCounts } from './finding';

export function Kinds({ tags }: { tags: TagCount[] }) {
  const { data } = useCounts();
  const { tags: chosen, ask } = useAsked();
  const shown = [
    ...chosen.filter((tag) => !tags.some((each) => each.tag === tag)).map((tag) => ({ tag, count: 0 })),
    ...tags,
  ];
  return (
    <aside
      aria-label="The library"
      className="flex min-h-0 flex-col gap-4 overflow-y-auto border-r border-line bg-side px-2.5 py-3 max-[900px]:flex-row max-[900px]:items-center max-[900px]:overflow-x-auto max-[900px]:border-r-0 max-[900px]:border-b max-[900px]:py-2"
    >
      <nav aria-label="Kinds" className="grid gap-px max-[900px]:flex">
        {data?.kinds.map(({ kind, count: number }) => (
          <Kind key={kind} to={kind === 'kits' ? '/' : `/library/${kind}`} name={titleOf(kind)} number={number} />
        ))}
        {data && <Kind to={`/library/${AWAY}`} name={titleOf(AWAY)} number={data.put_away} />}
      </nav>
      {shown.length > 0 && (
        <section aria-label="Tags" className="grid gap-1.5 px-2 max-[900px]:hidden">
          <h2 className="head">Tags</h2>
          <div className="flex flex-wrap gap-1.5">
            {shown.map(({ tag, count: number }) => (
              <button
                key={tag}
                type="button"
                aria-pressed={chosen.includes(tag)}
                title={`${number} of what was found`}
                onClick={() =>
                  ask({ tags: chosen.includes(tag) ? chosen.filter((each) => each !== tag) : [...chosen, tag] })
                }
                className={`min-h-6 rounded-full px-2.5 text-tiny ${chosen.includes(tag) ? 'bg-leaf-wash font-semibold text-leaf' : 'bg-sunk text-soft hover:text-ink'}`}
              >
                {tag}
              </button>
            ))}
          </div>
        </section>
      )}
      <RoomHere />
    </aside>
  );
}

function Kind({ to, name, number }: { to: string; name: string; number: number }) {
  return (
    <NavLink
      to={to}
      end
      onClick={() => useChosen.setState({ looked: null, at: 0, several: new Map() })}
      className={({ isActive }) =>
        `flex items-center justify-between gap-3 rounded-lg px-2.5 py-1.5 whitespace-nowrap ${isActive ? 'bg-ink font-semibold text-card' : 'font-medium hover:bg-sunk'}`
      }
    >
      {name} <span className="num opacity-75">{number.toLocaleString('en')}</span>
    </NavLink>
  );
}

/** What is kept takes room; what nothing needs any more is cleared where somebody asks for it. */
function RoomHere() {
  const { data } = useQuery({ queryKey: ['room'], queryFn: () => get('/api/library/room', {}), staleTime: 20_000 });
  if (!data) return null;
  return (
    <section aria-label="Kept here" className="mt-auto grid gap-1 px-2 max-[900px]:hidden">
      <h2 className="head">Kept here</h2>
      <p className="num text-soft">
        {bytes(data.recordings)} recordings
        <br />
        {bytes(data.free)} free
      </p>
      <Panel
        label="Room on this disk"
        buttonClass="link text-tiny"
        button="What takes room"
        className="grid w-[300px] gap-2 p-3.5"
      >
        {() => <Clearing room={data} />}
      </Panel>
    </section>
  );
}

function Clearing({
  room,
}: {
  room: { recordings: number; prepared: number; made: number; records: number; free: number };
}) {
  const queries = useQueryClient();
  const [cleared, setCleared] = useState<string | null>(null);
  const { data: unneeded, error } = useQuery({
    queryKey: ['room', 'unneeded'],
    queryFn: () => get('/api/library/unneeded', {}),
    staleTime: 0,
  });
  const lines: [string, number][] = [
    ['Recordings', room.recordings],
    ['Made ready to play', room.prepared],
    ['Exports and previews', room.made],
    ['Kits and versions', room.records],
    ['Free', room.free],
  ];
  const clear = async () => {
    try {
      const gone = await post('/api/library/clear', {});
      setCleared(
        gone.files ? `${count(gone.files, 'file')} cleared, ${bytes(gone.bytes)} free.` : 'There was nothing to clear.',
      );
    } catch (problem) {
      setCleared((problem as Error).message);
    }
    await queries.invalidateQueries({ queryKey: ['room'] });
  };
  return (
    <>
      <h2>Room on this disk</h2>
      <dl className="grid grid-cols-[1fr_auto] gap-x-4 gap-y-1">
        {lines.map(([name, size]) => (
          <div key={name} className="contents">
            <dt className="text-soft">{name}</dt>
            <dd className="num text-right">{bytes(size)}</dd>
          </div>
        ))}
      </dl>
      <p className="text-small text-soft">
        {error
          ? error.message
          : !unneeded
            ? 'Looking for what nothing needs…'
            : unneeded.files
              ? `${count(unneeded.files, 'file')} (${bytes(unneeded.bytes)}) are in no kit, piece or session any more.`
              : 'Every recording is needed by a kit, a piece or a session.'}
      </p>
      {unneeded !== undefined && unneeded.files > 0 && (
        <button type="button" className="btn justify-self-start" onClick={() => void clear()}>
          Clear what nothing needs
        </button>
      )}
      {cleared && (
        <p role="status" className="text-small">
          {cleared}
        </p>
      )}
    </>
  );
}
