/** Saved and shipped treatments: apply to a channel, save from it. */
import type { Channel } from '../../../api/calls';
import { ShelfMenu } from '../../../app/shelf/ShelfMenu';
import { setTreatments } from './treating';

export function KeptByName({ channel }: { channel: Channel }) {
  const { treatments } = channel;
  return (
    <ShelfMenu
      kind="treatments"
      name="Presets"
      label="Saved treatments"
      nameOf="Name of this treatment"
      says={(card) => card.value?.says}
      onPut={(card) => card.value && setTreatments(channel.id, card.value.treatments)}
      value={treatments.length ? { treatments, says: '' } : null}
    >
      {(close) =>
        treatments.length > 0 && (
          <button
            type="button"
            className="link justify-self-start text-small"
            onClick={() => {
              setTreatments(channel.id, []);
              close();
            }}
          >
            Remove all treatment from {channel.name}
          </button>
        )
      }
    </ShelfMenu>
  );
}
