/** How one microphone heard the strike beside the others: when, which way round, and turning it over in this take. */
import type { RecordingShown, Take } from '../../api/calls';
import { signed } from '../kit/format';
import { useKit } from '../kit/kitStore';

interface HeardProps {
  recording: RecordingShown;
  take: Take;
  strokeId: string;
  mic: string;
}

const SIDES = ['left', 'right'];

export function Heard({ recording, take, strokeId, mic }: HeardProps) {
  const edit = useKit((s) => s.edit);
  const opposed = recording.against.map((side) => side.polarity < 0);
  const against = opposed.every((side) => side) ? 'against' : `${SIDES[opposed.indexOf(true)]} against`;
  const turned = recording.turned !== null;
  return (
    <span className="flex items-center justify-between gap-1">
      <span className="num text-[11.5px] text-faint" title="Where the strike starts here, after the take's start">
        {signed(recording.start_ms - (recording.cut_ms ?? take.start_ms))} ms
        {opposed.includes(true) && (
          <b className="text-amber" title={recording.against.map(said).join('; ')}>
            {' '}
            {against}
          </b>
        )}
      </span>
      <button
        type="button"
        className={`tag ${turned ? 'border-plum text-plum' : ''}`}
        aria-pressed={turned}
        title={
          turned && recording.turned !== 'both'
            ? `Its ${recording.turned} side is turned over`
            : 'Turn it over in this take alone'
        }
        onClick={() =>
          void edit({
            kind: 'turn_over',
            mic: recording.mic,
            side: recording.turned ?? 'both',
            articulation: strokeId,
            take: take.id,
          })
        }
      >
        <span className="sr-only">Polarity of {mic} in this take</span>
        <span aria-hidden="true">Ø take</span>
      </button>
    </span>
  );
}

const said = (side: RecordingShown['against'][number]) =>
  side.polarity === 0
    ? 'not clear'
    : `${side.polarity < 0 ? 'pulls where the first one pushes' : 'pushes with the first one'}, ${signed(side.delay_ms)} ms behind it, ${Math.round(side.sure * 100)} % sure`;
