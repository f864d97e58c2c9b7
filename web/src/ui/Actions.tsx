/** A button that opens a short list of things to do. */
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import type { ReactNode } from 'react';

export interface Action {
  name: string;
  hint?: string;
  disabled?: boolean;
  onChoose: () => void;
}

export function Actions({
  label,
  children,
  actions,
  className = 'btn',
  side = 'bottom start',
}: {
  label: string;
  children: ReactNode;
  actions: Action[];
  className?: string;
  side?: 'bottom start' | 'bottom end';
}) {
  return (
    <Menu>
      <MenuButton className={className} aria-label={label} title={label}>
        {children}
      </MenuButton>
      <MenuItems
        anchor={{ to: side, gap: 4, padding: 8 }}
        className="z-50 max-h-[60vh] min-w-[180px] overflow-auto rounded-xl border border-line bg-card p-1 shadow-lg focus:outline-none"
      >
        {actions.map((action) => (
          <MenuItem key={action.name} disabled={action.disabled}>
            <button
              type="button"
              onClick={action.onChoose}
              className="flex w-full items-center justify-between gap-4 rounded-lg px-2.5 py-1.5 text-left text-[12.5px] whitespace-nowrap data-disabled:opacity-45 data-focus:bg-sunk"
            >
              {action.name}
              {action.hint && <span className="num text-faint">{action.hint}</span>}
            </button>
          </MenuItem>
        ))}
      </MenuItems>
    </Menu>
  );
}
