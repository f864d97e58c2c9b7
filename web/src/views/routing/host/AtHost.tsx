/** The host's side of routing: tracks, recording, and the line check; or the plan editor. */
import { ChevronDown } from 'lucide-react';
import type { KitState } from '../../../api/calls';
import { useKit } from '../../../app/kit/kitStore';
import { Panel } from '../../../ui/Panel';
import { LineCheckButton, Lines } from '../lines/Lines';
import type { useMeters } from '../meters';
import { PlanEditor } from './PlanEditor';
import { usePlanShown, usePlans } from './plans';
import { Recorder, useTake } from './Recorder';
import { Tracks } from './Tracks';

export function AtHost({ meters }: { meters: ReturnType<typeof useMeters> }) {
  const take = useTake();
  const version = useKit((s) => s.kit?.version);
  const { shelf } = usePlans();
  const edited = usePlanShown((s) => s.edited);
  const card = shelf.cards.find((each) => each.id === edited && each.ours && each.value);
  if (card) return <PlanEditor key={card.id} card={card} shelf={shelf} />;
  return (
    <>
      {/* A recording of another version does not belong to these tracks. */}
      <Tracks meters={meters} take={take?.version === version ? take : undefined} />
      <Recorder take={take} />
      <Lines />
    </>
  );
}

/** Actions on all outputs. */
export function OverTracks() {
  const kit = useKit((s) => s.kit) as KitState;
  const edit = useKit((s) => s.edit);
  return (
    <>
      <button
        type="button"
        className="btn"
        title="Route everything to main and reset the output names"
        onClick={() => void edit({ kind: 'clear_outputs' })}
      >
        Clear outputs
      </button>
      <button
        type="button"
        className="btn"
        title={`Name each track of ${kit.head.host} after the output sent to it`}
        onClick={() => void edit({ kind: 'copy_output_names' })}
      >
        Copy output names to tracks
      </button>
      <Panel
        label="Track sheet"
        button={
          <>
            Track sheet <ChevronDown size={13} aria-hidden="true" />
          </>
        }
        className="grid w-[200px] gap-0.5 p-2"
      >
        {(close) =>
          (['html', 'csv', 'json'] as const).map((form) => (
            <a
              key={form}
              className="rounded-lg px-2 py-1.5 font-semibold hover:bg-sunk"
              href={`/api/kits/${kit.id}/track-sheet/${form}`}
              {...(form === 'html' ? { target: '_blank', rel: 'noreferrer' } : { download: true })}
              onClick={close}
            >
              {{ html: 'A page to print', csv: 'CSV', json: 'JSON' }[form]}
            </a>
          ))
        }
      </Panel>
      <LineCheckButton />
    </>
  );
}
