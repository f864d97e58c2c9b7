/** One treatment of a channel: its switch, chart and values. */
import type { ReactNode } from 'react';

interface StageProps {
  name: string;
  on: boolean;
  onSwitch: (on: boolean) => void;
  says?: ReactNode;
  children: ReactNode;
}

export function Stage({ name, on, onSwitch, says, children }: StageProps) {
  return (
    <section
      aria-label={name}
      className="card grid min-w-0 grid-cols-[minmax(0,1fr)] content-start gap-1 px-2.5 py-1.5"
      data-stage={name}
      data-on={on}
    >
      <h2 className="flex items-center gap-2">
        <button
          type="button"
          role="switch"
          aria-checked={on}
          aria-label={name}
          title={on ? 'Bypass' : 'Enable'}
          onClick={() => onSwitch(!on)}
          className="grid h-6 w-8 place-items-center"
        >
          <span className={`relative block h-[14px] w-[26px] rounded-full ${on ? 'bg-leaf' : 'bg-edge'}`}>
            <span
              className={`absolute top-[2px] size-[10px] rounded-full bg-card ${on ? 'right-[2px]' : 'left-[2px]'}`}
            />
          </span>
        </button>
        {name}
        <span className="min-w-0 grow truncate text-right text-tiny font-normal text-faint">{says}</span>
      </h2>
      {children}
    </section>
  );
}
