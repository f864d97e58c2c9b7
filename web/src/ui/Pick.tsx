/** A small list to choose one thing from. */
import { Listbox, ListboxButton, ListboxOption, ListboxOptions } from '@headlessui/react';
import { ChevronDown } from 'lucide-react';

export function Pick<T extends string | number>({
  label,
  value,
  options,
  onChange,
  className = '',
}: {
  label: string;
  value: T;
  options: { value: T; name: string }[];
  onChange: (value: T) => void;
  className?: string;
}) {
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
