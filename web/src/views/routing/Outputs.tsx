/** The host's outputs: what goes to each, and its level. */
import type { KitState } from '../../api/calls';
import { useKit } from '../../app/kit/kitStore';
import { Clips } from './Clips';
import type { useMeters } from './meters';
import { sentTo } from './outputs';

export function Outputs({ meters }: { meters: ReturnType<typeof useMeters> }) {
  const kit = useKit((s) => s.kit) as KitState;
  const { outputs } = kit.head;
  const sent = sentTo(kit);
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls and contains nothing focusable
    <aside className="overflow-y-auto border-r border-line px-2.5 py-3" aria-label="Outputs of the host" tabIndex={0}>
      <h2 className="head mx-1.5 mb-2 flex justify-between">
        <span>Outputs of {kit.head.host}</span>
        <span>
          {sent.size} of {outputs.length}
        </span>
      </h2>
      <ul>
        {outputs.map((output) => {
          const used = sent.has(output.number);
          return (
            <li key={output.number} className="grid grid-cols-[26px_1fr_auto] items-center gap-2 px-1.5 py-[4px]">
              <span className="grid justify-items-start gap-0.5">
                <span className="tag">{output.number}</span>
                <Clips name={`out ${output.number}`} of={`Output ${output.number}`} />
              </span>
              <span className="min-w-0">
                <span className={`block truncate leading-tight ${used ? 'font-semibold' : 'text-faint'}`}>
                  {used ? output.name : 'free'}
                </span>
                <span className="num text-[11.5px] text-faint">
                  {output.width} · {output.called || output.number}
                </span>
              </span>
              <span className="flex h-7 gap-[3px]" aria-hidden="true">
                {(output.width === 'stereo' ? [0, 1] : [0]).map((side) => (
                  <span
                    key={side}
                    ref={meters.keep(`out ${output.number} ${side}`)}
                    className="leaving relative w-1.5 overflow-hidden rounded-full bg-sunk"
                  >
                    <i className="level" />
                    <i className="held" />
                  </span>
                ))}
              </span>
            </li>
          );
        })}
      </ul>
    </aside>
  );
}
