/** A short list to choose one item from. */
import { Listbox, ListboxButton, ListboxOption, ListboxOptions } from '@headlessui/react';
import { ChevronDown } from 'lucide-react';
import { memo } from 'react';
import { useLatest } from './latest';

interface PickProps<T extends string | number> {
  label: string;
  value: T;
  options: { value: T; name: string }[];
  onChange: (value: T) => void;
  className?: string;
}

/** Redrawn only when what it shows has changed: lists are expensive, and many are beside what is dragged. */
export function Pick<T extends string | number>(props: PickProps<T>) {
  return <Shown {...props} onChange={useLatest(props.onChange)} />;
}

const Shown = memo(
  List,
  (a, b) =>
    a.label === b.label &&
    a.value === b.value &&
    a.className === b.className &&
    a.options.length === b.options.length &&
    a.options.every((option, k) => option.value === b.options[k]?.value && option.name === b.options[k]?.name),
) as typeof List;

function List<T extends string | number>({ label, value, options, onChange, className = '' }: PickProps<T>) {
  const chosen = options.find((option) => option.value === value);
  return (
    <Listbox value={value} onChange={onChange}>
      <ListboxButton
        aria-label={`${label}: ${chosen?.name ?? ''}`}
        className={`pick inline-flex items-center justify-between gap-1.5 ${className}`}
      >
        <span className="truncate">{chosen?.name ?? '–'}</span>
        <ChevronDown size={13} className="shrink-0 text-faint" aria-hidden="true" />
      </ListboxButton>
      <ListboxOptions
        anchor={{ to: 'bottom start', gap: 4, padding: 8 }}
        className="z-50 max-h-72 min-w-[var(--button-width)] overflow-auto rounded-xl border border-line bg-card p-1 shadow-lg focus:outline-none"
      >
        {options.map((option) => (
          <ListboxOption
            key={option.value}
            value={option.value}
            className="cursor-pointer rounded-lg px-2.5 py-1.5 text-[12.5px] whitespace-nowrap data-focus:bg-sunk data-selected:font-semibold"
          >
            {option.name}
          </ListboxOption>
        ))}
      </ListboxOptions>
    </Listbox>
  );
}
