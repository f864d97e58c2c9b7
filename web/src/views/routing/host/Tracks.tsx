/** The host's outputs: their names there, what is sent, the track names, and what arrives. */
import { useState } from 'react';
import type { Job, KitState } from '../../../api/calls';
import { useKit } from '../../../app/kit/kitStore';
import { AsksName } from '../../../ui/AsksName';
import { Clips } from '../Clips';
import type { useMeters } from '../meters';
import { freeRuns, type Output, sentTo } from '../outputs';

const GRID = 'grid grid-cols-[34px_minmax(0,1.2fr)_84px_minmax(0,1fr)_150px] items-center gap-3';

export function Tracks({ meters, take }: { meters: ReturnType<typeof useMeters>; take: Job | undefined }) {
  const kit = useKit((s) => s.kit) as KitState;
  const [all, showAll] = useState(false);
  const sent = sentTo(kit);
  const shown = kit.head.outputs.filter((output) => all || output.number === 1 || sent.has(output.number));
  const free = freeRuns(kit.head.outputs, sent);
  const freeCount = free.reduce((sum, run) => sum + run.length, 0);
  return (
    <section className="grid gap-1" aria-label={`Tracks of ${kit.head.host}`}>
      <div className={`${GRID} px-3 text-tiny font-semibold text-faint`}>
        <span>Out</span>
        <span>Output</span>
        <span className="truncate">{kit.head.host} says</span>
        <span>Track</span>
        <span>Level</span>
      </div>
      <ul className="grid gap-1" data-testid="tracks">
        {shown.map((output) => (
          <Row key={output.number} output={output} sent={sent.get(output.number) ?? []} meters={meters} take={take} />
        ))}
      </ul>
      {freeCount > 0 && (
        <button
          type="button"
          className="link justify-self-start px-3 text-small"
          aria-expanded={all}
          onClick={() => showAll(!all)}
        >
          {all
            ? 'Only what is used'
            : `${freeCount} free: ${free.map((run) => (run.length > 1 ? `${name(run[0])} to ${name(run.at(-1))}` : name(run[0]))).join(', ')}`}
        </button>
      )}
    </section>
  );
}

const name = (output: Output | undefined) => output?.called || String(output?.number);

interface RowProps {
  output: Output;
  sent: string[];
  meters: ReturnType<typeof useMeters>;
  take: Job | undefined;
}

function Row({ output, sent, meters, take }: RowProps) {
  const edit = useKit((s) => s.edit);
  const trackName = useKit((s) => s.kit?.head.track_names[output.number]) ?? '';
  const { number } = output;
  const part = take?.parts.find((each) => each.output === number);
  const unlike = sent.length > 0 && output.track !== output.name;
  return (
    <li
      className={`${GRID} min-h-[32px] rounded-[9px] border border-line px-3 ${sent.length ? 'bg-card' : ''}`}
      data-output={number}
    >
      <span className="flex items-center gap-0.5">
        <span className="tag text-center">{number}</span>
        <Clips name={`out ${number}`} of={`Output ${number}`} />
      </span>
      <span className="flex min-w-0 items-baseline gap-1.5">
        <AsksName
          label={`Name of output ${number}`}
          says={sent.length || number === 1 ? output.name : 'free'}
          value={output.name}
          className={`max-w-full truncate text-left hover:underline ${sent.length || number === 1 ? 'font-semibold' : 'text-faint'}`}
          title={`Output name, ${output.name}: press to change it`}
          onName={(typed) => void edit({ kind: 'name_output', output: number, name: typed })}
        />
        <span className="truncate text-tiny text-faint">
          {sent.join(', ') === output.name ? '' : sent.length > 3 ? `${sent.length} channels` : sent.join(', ')}
        </span>
      </span>
      <span className="num truncate text-[12px] text-soft">
        <span className="sr-only">named by the host </span>→ {name(output)}
      </span>
      <AsksName
        label={`Track at ${name(output)}`}
        says={trackName}
        value={output.track}
        className={`truncate border-b border-dashed text-left ${
          unlike ? 'border-amber-line text-amber' : 'border-line'
        } ${output.track ? '' : 'text-faint'}`}
        title={
          unlike ? `Differs from the output name, ${output.name}` : `${output.track || 'No name yet'}: press to name it`
        }
        onName={(typed) => void edit({ kind: 'name_output', output: number, track: typed })}
      />
      <span className="flex h-6 items-center gap-2">
        <span className="grid w-[46px] shrink-0 gap-[3px]" aria-hidden="true">
          {(output.width === 'stereo' ? [0, 1] : [0]).map((side) => (
            <span
              key={side}
              ref={meters.keep(`out ${number} ${side}`)}
              className="arriving relative h-[5px] overflow-hidden rounded-full bg-sunk"
            >
              <i className="level" />
              <i className="held" />
            </span>
          ))}
        </span>
        {part && <Recorded outline={part.outline} clips={part.clipped_samples > 0} />}
      </span>
    </li>
  );
}

/** What the host recorded on a track. */
function Recorded({ outline, clips }: { outline: readonly number[]; clips: boolean }) {
  const points = outline.map((peak, place) => [place, Math.sqrt(Math.min(1, peak)) * 11] as const);
  const along = (sign: number) => points.map(([x, y]) => `${x},${(12 + sign * y).toFixed(1)}`);
  return (
    <svg
      viewBox={`0 0 ${Math.max(1, outline.length - 1)} 24`}
      preserveAspectRatio="none"
      className="h-6 min-w-0 grow"
      role="img"
      aria-label={clips ? 'recorded, and clips' : 'recorded'}
    >
      <polygon points={[...along(-1), ...along(1).reverse()].join(' ')} fill={clips ? 'var(--amber)' : 'var(--v3)'} />
    </svg>
  );
}
