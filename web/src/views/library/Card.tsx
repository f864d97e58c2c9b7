/** One library item: its name, what it holds, its description, and its preview. */
import { Box, Check } from 'lucide-react';
import type { KeyboardEvent, MouseEvent } from 'react';
import { Link } from 'react-router';
import type { Entry, PreviewItem } from '../../api/calls';
import { SkinIcon } from '../../ui/Skin';
import { Hear } from './Hear';
import { whenShort } from './when';

const MOST_SKINS = 12;

export const itemOf = (entry: Pick<Entry, 'kind' | 'id'>): PreviewItem | null =>
  entry.kind === 'kits' || entry.kind === 'pieces' || entry.kind === 'grooves'
    ? { kind: entry.kind, id: entry.id, version: 0 }
    : null;

interface CardProps {
  entry: Entry;
  place: number;
  /** Tab stops at it. */
  at: boolean;
  looked: boolean;
  picked: boolean;
  onPress: (event: MouseEvent, place: number) => void;
  onToggle: (place: number) => void;
  onKeyDown: (event: KeyboardEvent, place: number) => void;
}

export function Card({ entry, place, at, looked, picked, onPress, onToggle, onKeyDown }: CardProps) {
  const item = itemOf(entry);
  const name = {
    'data-place': place,
    tabIndex: at ? 0 : -1,
    className: 'min-w-0 truncate rounded text-left text-[15px] font-bold tracking-tight hover:underline',
    onKeyDown: (event: KeyboardEvent) => onKeyDown(event, place),
  };
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: its name takes the keys
    <article
      aria-label={entry.name}
      aria-current={looked || undefined}
      data-thing={entry.id}
      className={`card group flex h-full min-w-0 flex-col gap-2 overflow-hidden select-none ${looked || picked ? 'border-ink ring-1 ring-ink' : 'hover:border-edge'}`}
      onClick={(event) => onPress(event, place)}
    >
      <div className="flex min-w-0 items-center gap-2.5">
        {item && <Hear item={item} name={entry.name} tabIndex={-1} />}
        {entry.kind === 'kits' && !entry.put_away ? (
          <Link to={`/kits/${entry.id}/layers`} {...name} onClick={(event) => event.stopPropagation()}>
            {entry.name}
          </Link>
        ) : (
          <button type="button" {...name}>
            {entry.name}
          </button>
        )}
        <span className="grow" />
        <button
          type="button"
          tabIndex={-1}
          role="checkbox"
          aria-checked={picked}
          aria-label={`Select ${entry.name}`}
          title="Select several (Ctrl or Shift+click)"
          onClick={(event) => {
            event.stopPropagation();
            onToggle(place);
          }}
          className={`grid h-6 w-6 shrink-0 place-items-center rounded-md border ${picked ? 'border-ink bg-ink text-card' : 'border-line opacity-0 group-hover:opacity-100 focus-visible:opacity-100'}`}
        >
          {picked && <Check size={13} strokeWidth={3} aria-hidden="true" />}
        </button>
      </div>
      {entry.pieces.length > 0 && (
        <div className="flex h-[26px] shrink-0 items-center gap-1 overflow-hidden">
          {entry.pieces.slice(0, MOST_SKINS).map((piece) => (
            <span key={piece.id} title={piece.name} className="shrink-0">
              <SkinIcon layers={piece.layers} takes={piece.takes} size={25} />
            </span>
          ))}
          {entry.pieces.length > MOST_SKINS && (
            <span className="num text-faint">+{entry.pieces.length - MOST_SKINS}</span>
          )}
        </div>
      )}
      <p className="num shrink-0 truncate text-faint">{entry.figures}</p>
      {entry.trouble ? (
        <p className="line-clamp-2 text-small" role="alert">
          {entry.trouble}
        </p>
      ) : (
        entry.description && (
          <p className={`text-small text-soft ${entry.kind === 'pieces' ? 'truncate' : 'line-clamp-2'}`}>
            {entry.description}
          </p>
        )
      )}
      <div className="mt-auto flex min-w-0 items-center gap-1.5 overflow-hidden">
        {entry.tags.slice(0, 4).map((tag) => (
          <span key={tag} className="shrink-0 rounded-full bg-sunk px-2 text-tiny whitespace-nowrap text-soft">
            {tag}
          </span>
        ))}
        <span className="grow" />
        <span className="flex shrink-0 items-center gap-1 text-tiny whitespace-nowrap text-faint">
          {entry.ships ? (
            <>
              <Box size={12} aria-hidden="true" /> ships with Zesty Skin
            </>
          ) : (
            entry.changed && `yours · ${whenShort(entry.changed)}`
          )}
        </span>
      </div>
    </article>
  );
}
