/** A plan's preview: what would move from where to where, what does not fit; and the button that applies it. */
import type { KitState } from '../../../api/calls';
import { count } from '../../../app/kit/format';
import { useKit } from '../../../app/kit/kitStore';
import { BringBack } from '../../../app/shelf/OnShelf';
import { AsksName } from '../../../ui/AsksName';
import { usePlanShown, usePlans, usePreview } from './plans';

export function PlanSide() {
  const { id } = usePlanShown();
  const { shelf, apply } = usePlans();
  const card = shelf.cards.find((each) => each.id === id);
  const { data, error } = usePreview(card);
  if (!card) {
    return (
      <>
        <BringBack shelf={shelf} />
        <WhatDidNotFit />
      </>
    );
  }
  return (
    <section
      className="grid grid-cols-[minmax(0,1fr)] gap-2 rounded-xl border border-line bg-card p-3 text-small"
      aria-label={`Plan ${card.name}`}
    >
      <h2 className="text-[14px]">{card.name}</h2>
      {error && <p role="alert">{(error as Error).message}</p>}
      {data && (
        <>
          {data.moves.length === 0 ? (
            <p className="text-soft">This kit is already routed this way.</p>
          ) : (
            <p>{count(data.moves.length, 'channel')} would move:</p>
          )}
          <ul className="grid max-h-[190px] gap-0.5 overflow-y-auto" data-testid="plan-moves">
            {data.moves.map((move) => (
              <li key={move.channel} className="leading-snug">
                <b className="font-semibold">{move.name}</b> <span className="text-soft">{move.before} →</span>{' '}
                {move.after}
              </li>
            ))}
          </ul>
          <Misfits sentences={data.misfits} />
          <button
            type="button"
            className="btn btn-go justify-self-start"
            disabled={data.moves.length === 0}
            onClick={() => void apply(card)}
          >
            Route by this plan
          </button>
        </>
      )}
      <span className="flex flex-wrap gap-x-3 gap-y-1">
        {card.ours ? (
          <>
            <button type="button" className="link" onClick={() => usePlanShown.setState({ edited: card.id })}>
              Edit rules
            </button>
            <AsksName
              label="Name of the plan"
              says="Rename"
              value={card.name}
              className="link"
              onName={(name) => void shelf.asking(() => shelf.rename(card, name))}
            />
            <button type="button" className="link" onClick={() => void shelf.asking(() => shelf.remove(card))}>
              Delete
            </button>
          </>
        ) : (
          <button
            type="button"
            className="link"
            onClick={() =>
              void shelf.asking(async () => {
                const made = (await shelf.duplicate(card)) as { id: string };
                usePlanShown.setState({ id: made.id, edited: made.id });
              })
            }
          >
            Duplicate and edit
          </button>
        )}
        <a className="link" href={`/api/shelves/plans/${card.id}/file`} download>
          Save as a file
        </a>
      </span>
    </section>
  );
}

function Misfits({ sentences }: { sentences: readonly string[] }) {
  if (!sentences.length) return null;
  return (
    <div className="grid gap-1 rounded-lg bg-amber-wash px-2.5 py-2">
      <b className="font-semibold">What does not fit</b>
      <ul className="grid max-h-[150px] gap-1 overflow-y-auto">
        {sentences.map((sentence) => (
          <li key={sentence} className="leading-snug">
            {sentence}
          </li>
        ))}
      </ul>
    </div>
  );
}

/** The misfits of the plan applied last, shown on every screen. */
export function WhatDidNotFit() {
  const kit = useKit((s) => s.kit) as KitState;
  const applied = usePlanShown((s) => s.applied);
  if (!applied || applied.kit !== kit.id || !applied.misfits.length) return null;
  return (
    <section className="grid grid-cols-[minmax(0,1fr)] gap-1 text-small" role="status">
      <h2 className="head">Routed by {applied.name}</h2>
      <Misfits sentences={applied.misfits} />
      <button
        type="button"
        className="link justify-self-start"
        onClick={() => usePlanShown.setState({ applied: null })}
      >
        Got it
      </button>
    </section>
  );
}
