/** Search results as cards: drawn only when visible, walked by arrow keys, selected one by one or several. */
import { useVirtualizer } from '@tanstack/react-virtual';
import { type KeyboardEvent, type MouseEvent, useEffect, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import type { Entry } from '../../api/calls';
import { Card, itemOf } from './Card';
import { keyOf, thingsOf, useChosen } from './chosen';
import { type LibrarySearch, useFound } from './finding';
import { isHeard, keyOfItem, useHearing, usePreviews } from './hearing';

const LEAST_WIDTH = 320;
const GAP = 12;
/** Card heights: kinds with pieces have a row of drawings. */
const HIGH: Record<string, number> = { kits: 184, away: 184, pieces: 164 };
const LOW = 138;

interface CardsProps {
  asked: LibrarySearch;
  onPutAway: () => void;
}

export function Cards({ asked, onPutAway }: CardsProps) {
  const scroller = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(800);
  useEffect(() => {
    const node = scroller.current;
    if (!node) return;
    const observer = new ResizeObserver(([seen]) => setWidth(seen?.contentRect.width ?? 800));
    observer.observe(node);
    return () => observer.disconnect();
  }, []);
  const columns = Math.max(1, Math.floor((width + GAP) / (LEAST_WIDTH + GAP)));
  const [seen, setSeen] = useState<[number, number]>([0, 0]);
  const found = useFound(asked, seen[0], seen[1]);
  const rows = Math.ceil(found.total / columns);
  const high = HIGH[asked.kind] ?? LOW;
  const virtual = useVirtualizer({
    count: rows,
    getScrollElement: () => scroller.current,
    estimateSize: () => high + GAP,
    overscan: 3,
  });
  // biome-ignore lint/correctness/useExhaustiveDependencies: row height depends on the kind
  useEffect(() => virtual.measure(), [high, columns]);
  const drawn = virtual.getVirtualItems();
  const from = (drawn[0]?.index ?? 0) * columns;
  const to = Math.min(found.total, ((drawn[drawn.length - 1]?.index ?? 0) + 1) * columns) - 1;
  useEffect(() => setSeen([from, Math.max(from, to)]), [from, to]);

  const chosen = useChosen();
  const at = Math.min(chosen.at, Math.max(0, found.total - 1));
  const navigate = useNavigate();
  const focusing = useRef(false);
  const several = chosen.several.size > 1;
  const isPicked = (entry: Entry) => several && chosen.several.has(keyOf(entry));
  const first = found.entryAt(0);
  // The first is selected until the user selects another.
  useEffect(() => {
    const { looked, look } = useChosen.getState();
    if (!looked && first) look(first, 0);
  }, [first]);

  const walkTo = (place: number, reach: boolean) => {
    const next = Math.max(0, Math.min(found.total - 1, place));
    const entry = found.entryAt(next);
    if (reach) pickUpTo(next);
    else if (entry) chosen.look(entry, next);
    else useChosen.setState({ at: next });
    focusing.current = true;
    virtual.scrollToIndex(Math.floor(next / columns));
  };
  const pickUpTo = (place: number) => {
    const start = chosen.looked ? Math.min(at, place) : place;
    const between = Array.from({ length: Math.abs(at - place) + 1 }, (_, k) => found.entryAt(start + k));
    const before = [...chosen.several.values()];
    chosen.reach([...before, ...between.filter((entry) => entry !== undefined)], place);
  };
  // The card that the arrows moved to may be drawn only now.
  useEffect(() => {
    if (!focusing.current) return;
    const node = scroller.current?.querySelector<HTMLElement>(`[data-place="${at}"]`);
    if (node) {
      focusing.current = false;
      node.focus();
    }
  });

  const press = (event: MouseEvent, place: number) => {
    const entry = found.entryAt(place);
    if (!entry) return;
    if (event.shiftKey) pickUpTo(place);
    else if (event.ctrlKey || event.metaKey) chosen.toggle(entry, place);
    else chosen.look(entry, place);
  };
  const hear = (entry: Entry) => {
    const item = itemOf(entry);
    const preview = item && usePreviews.getState().known.get(keyOfItem(item));
    const hearing = useHearing.getState();
    if (!item) return;
    if (isHeard(hearing, item)) hearing.stop();
    else if (preview?.state === 'ready' || preview?.state === 'stale') void hearing.play(preview, entry.name);
  };
  const keyed = (event: KeyboardEvent, place: number) => {
    const step = { ArrowRight: 1, ArrowLeft: -1, ArrowDown: columns, ArrowUp: -columns }[event.key];
    const ends = { Home: 0, End: found.total - 1, PageDown: place + columns * 4, PageUp: place - columns * 4 }[
      event.key
    ];
    const entry = found.entryAt(place);
    if (event.altKey || !entry) return;
    if (step !== undefined) walkTo(place + step, event.shiftKey);
    else if (ends !== undefined) walkTo(ends, event.shiftKey);
    else if (event.key === ' ') hear(entry);
    else if (event.key === 'x') chosen.toggle(entry, place);
    else if (event.key === 'Escape' && several) chosen.clear();
    else if ((event.key === 'Delete' || event.key === 'Backspace') && thingsOf(chosen).length) onPutAway();
    else if (event.key === 'Enter' && entry.kind === 'kits' && !entry.put_away) navigate(`/kits/${entry.id}/layers`);
    else return;
    event.preventDefault();
  };

  return (
    <div ref={scroller} className="min-h-0 grow overflow-y-auto px-[18px] pt-0.5 pb-4" data-testid="cards">
      {found.known && found.total === 0 ? (
        <Nothing asked={asked} />
      ) : (
        <div className="relative w-full" style={{ height: virtual.getTotalSize() }}>
          {drawn.map((row) => (
            <div
              key={row.key}
              className="absolute inset-x-0 grid"
              style={{
                top: row.start,
                height: high,
                gap: GAP,
                gridTemplateColumns: `repeat(${columns}, minmax(0, 1fr))`,
              }}
            >
              {Array.from({ length: Math.min(columns, found.total - row.index * columns) }, (_, column) => {
                const place = row.index * columns + column;
                const entry = found.entryAt(place);
                return entry ? (
                  <Card
                    key={keyOf(entry)}
                    entry={entry}
                    place={place}
                    at={place === at}
                    looked={!several && chosen.looked !== null && keyOf(chosen.looked) === keyOf(entry)}
                    picked={isPicked(entry)}
                    onPress={press}
                    onToggle={(here) => chosen.toggle(entry, here)}
                    onKeyDown={keyed}
                  />
                ) : (
                  <div key={place} className="card h-full opacity-50" />
                );
              })}
            </div>
          ))}
        </div>
      )}
    </div>
  );
}

const EMPTY: Record<string, string> = {
  kits: 'No kits yet. Add recordings, or open a kit file.',
  pieces: 'No saved pieces yet. Save one from a kit, with the menu beside a piece.',
  treatments: 'No saved treatments yet. Save one under Routing, where a channel is open.',
  spaces: 'No saved reverbs or echoes yet. Save one under Routing, where a bus is open.',
  grooves: 'No grooves yet. Open a MIDI file.',
  sessions: 'No recordings yet.',
  away: 'The bin is empty.',
};

function Nothing({ asked }: { asked: LibrarySearch }) {
  const looking = asked.asked !== '' || asked.tags.length > 0;
  return (
    <p className="grid h-full place-content-center text-center text-[15px] text-soft" role="status">
      {looking
        ? 'Nothing matches all of that. Remove a word or a tag.'
        : (EMPTY[asked.kind] ?? 'None of your own yet. Save one from a kit, or open a file.')}
    </p>
  );
}
