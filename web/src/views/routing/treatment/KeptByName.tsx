/** Treatments kept by name, ours and those that come with the product: put on a channel, kept from it. */
import { ChevronDown } from 'lucide-react';
import type { Channel } from '../../../api/calls';
import { BringBack, KeepAs } from '../../../app/OnShelf';
import { useShelf } from '../../../app/shelf';
import { Panel } from '../../../ui/Panel';
import { setTreatments } from './treating';

export function KeptByName({ channel }: { channel: Channel }) {
  const shelf = useShelf('treatments');
  const { treatments } = channel;
  return (
    <Panel
      label="Treatments kept by name"
      buttonClass="btn px-2 py-0.5"
      button={
        <>
          Treatments <ChevronDown size={13} aria-hidden="true" />
        </>
      }
      className="grid w-[330px] gap-1 p-2.5"
    >
      {(close) => (
        <>
          <ul className="grid gap-0.5">
            {shelf.cards.map((card) => (
              <li key={card.id} className="flex items-center gap-1">
                <button
                  type="button"
                  className="grid min-w-0 grow rounded-lg px-2 py-1 text-left hover:bg-sunk"
                  onClick={() => {
                    if (card.value) setTreatments(channel.id, card.value.treatments);
                    close();
                  }}
                >
                  <span className="font-semibold">{card.name}</span>
                  {card.value?.says && <span className="text-tiny text-soft">{card.value.says}</span>}
                </button>
                {card.ours && (
                  <button
                    type="button"
                    className="link text-tiny"
                    aria-label={`Remove ${card.name}`}
                    onClick={() => void shelf.asking(() => shelf.remove(card))}
                  >
                    Remove
                  </button>
                )}
              </li>
            ))}
          </ul>
          <BringBack shelf={shelf} />
          <KeepAs
            shelf={shelf}
            label="Name of this treatment"
            says="Keep this one as…"
            value={treatments.length ? { treatments, says: '' } : null}
          />
          {treatments.length > 0 && (
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
          )}
        </>
      )}
    </Panel>
  );
}
