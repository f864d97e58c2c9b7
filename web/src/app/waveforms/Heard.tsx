/** How one microphone's recording compares with the others: delay, polarity, and a switch to flip it in this take. */
import type { RecordingShown, Take } from '../../api/calls';
import { signed } from '../kit/format';
import { useKit } from '../kit/kitStore';

interface HeardProps {
  recording: RecordingShown;
  take: Take;
  articulationId: string;
  mic: string;
}

const SIDES = ['left', 'right'];

export function Heard({ recording, take, articulationId, mic }: HeardProps) {
  const edit = useKit((s) => s.edit);
  const opposed = recording.against.map((side) => side.polarity < 0);
  const against = opposed.every((side) => side) ? 'against' : `${SIDES[opposed.indexOf(true)]} against`;
  const flipped = recording.flipped !== null;
  return (
    <span className="flex items-center justify-between gap-1">
      <span
        className="num text-[11.5px] text-faint"
        title="Start of the strike in this microphone, after the start of the take"
      >
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
        className={`tag ${flipped ? 'border-plum text-plum' : ''}`}
        aria-pressed={flipped}
        title={
          flipped && recording.flipped !== 'both'
            ? `Polarity of its ${recording.flipped} side is flipped`
            : 'Flip polarity in this take only'
        }
        onClick={() =>
          void edit({
            kind: 'flip_recordings',
            mic: recording.mic,
            side: recording.flipped ?? 'both',
            articulation: articulationId,
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
    : `${side.polarity < 0 ? 'opposite polarity to the first side' : 'same polarity as the first side'}, ${signed(side.delay_ms)} ms behind it, ${Math.round(side.sure * 100)} % sure`;
