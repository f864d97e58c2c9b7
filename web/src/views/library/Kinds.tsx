/** The kinds with their counts, the tags of what was found, and the disk space used. */
import { useQuery } from '@tanstack/react-query';
import { NavLink } from 'react-router';
import { get, type TagCount } from '../../api/calls';
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

/** The disk space used, linked to the storage page. */
function RoomHere() {
  const { data } = useQuery({ queryKey: ['room'], queryFn: () => get('/api/library/room', {}), staleTime: 20_000 });
  return (
    <section aria-label="Storage" className="mt-auto grid gap-1 max-[900px]:mt-0">
      <NavLink
        to="/library/storage"
        className={({ isActive }) =>
          `rounded-lg px-2.5 py-1.5 whitespace-nowrap ${isActive ? 'bg-ink font-semibold text-card' : 'font-medium hover:bg-sunk'}`
        }
      >
        Storage
      </NavLink>
      {data && (
        <p className="num px-2.5 text-soft max-[900px]:hidden">
          {bytes(data.recordings)} recordings
          <br />
          {bytes(data.free)} free
        </p>
      )}
    </section>
  );
}
