/** A button that opens a short menu of actions. */
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import { isValidElement, memo, type ReactNode } from 'react';
import { useLatest } from './latest';

export interface Action {
  name: string;
  hint?: string;
  disabled?: boolean;
  onChoose: () => void;
}

interface ActionsProps {
  label: string;
  children: ReactNode;
  actions: Action[];
  className?: string;
  side?: 'bottom start' | 'bottom end';
}

/** Redrawn only when what it shows has changed: every piece in the list has one. */
export function Actions(props: ActionsProps) {
  const onChoose = useLatest((place: number) => props.actions[place]?.onChoose());
  return <Shown {...props} onChoose={onChoose} />;
}

type ShownProps = ActionsProps & { onChoose: (place: number) => void };

const Shown = memo(
  List,
  (a, b) =>
    a.label === b.label &&
    a.className === b.className &&
    a.side === b.side &&
    sameNode(a.children, b.children) &&
    a.actions.length === b.actions.length &&
    a.actions.every((one, k) => {
      const other = b.actions[k];
      return one.name === other?.name && one.hint === other.hint && one.disabled === other.disabled;
    }),
);

/** Whether two nodes show the same texts and icons. */
function sameNode(a: ReactNode, b: ReactNode): boolean {
  if (Object.is(a, b)) return true;
  if (Array.isArray(a) && Array.isArray(b)) return a.length === b.length && a.every((one, k) => sameNode(one, b[k]));
  if (!isValidElement<object>(a) || !isValidElement<object>(b) || a.type !== b.type || a.key !== b.key) return false;
  const [was, is] = [Object.entries(a.props), new Map(Object.entries(b.props))];
  return was.length === is.size && was.every(([name, value]) => sameNode(value as ReactNode, is.get(name)));
}

function List({ label, children, actions, className = 'btn', side = 'bottom start', onChoose }: ShownProps) {
  return (
    <Menu>
      <MenuButton className={className} aria-label={label} title={label}>
        {children}
      </MenuButton>
      <MenuItems
        anchor={{ to: side, gap: 4, padding: 8 }}
        className="z-50 max-h-[60vh] min-w-[180px] overflow-auto rounded-xl border border-line bg-card p-1 shadow-lg focus:outline-none"
      >
        {actions.map((action, place) => (
          <MenuItem key={action.name} disabled={action.disabled}>
            <button
              type="button"
              onClick={() => onChoose(place)}
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
