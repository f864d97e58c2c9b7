/** Which articulation stops which: a sentence, a diagram, and a table. */
import type { Articulation, KitState, Piece } from '../../api/calls';
import { articulationIn, useKit } from '../../app/kit/kitStore';
import { usePlace } from '../../app/kit/place';
import { rules, within } from '../../app/kit/rules';
import { Pick } from '../../ui/Pick';
import { Slider } from '../../ui/Slider';
import { Typed } from '../../ui/Typed';
import { ChokeDiagram } from './ChokeDiagram';
import { usePieceHere } from './pieceHere';

export function Chokes() {
  const kit = useKit((s) => s.kit) as KitState;
  const pieces = useKit((s) => s.pieces);
  const edit = useKit((s) => s.edit);
  const lookAt = usePlace((s) => s.lookAt);
  const piece = usePieceHere(() => true);
  if (!piece) return <p className="text-small text-soft">No pieces yet.</p>;
  const usual = rules().fades;
  const articulations = piece.articulations;
  const elsewhere = articulations.flatMap((a) =>
    a.chokes.filter((s) => !articulations.some((b) => b.id === s.articulation)).map((s) => ({ from: a, choke: s })),
  );
  const fades = articulations.flatMap((a) => a.chokes.map((s) => s.fade_ms));
  const fade = fades[0] ?? usual.by_articulation_ms;
  const differ = fades.some((ms) => ms !== fade);
  const others = [...pieces.values()]
    .filter((p) => p.id !== piece.id)
    .flatMap((p) => p.articulations.map((a) => ({ value: a.id, name: `${p.name} · ${a.name}` })));
  /** Sets the fade of all chokes of an articulation or of a piece's articulations. */
  const setFades = (of: Piece | Articulation, fade_ms: number, gesture?: string) =>
    void edit(
      {
        kind: 'several',
        said: `${of.name} chokes others within ${fade_ms} ms`,
        edits: articulations
          .filter((a) => of === piece || of === a)
          .flatMap((a) =>
            a.chokes.map((s) => ({
              kind: 'set_choke' as const,
              articulation: a.id,
              stopped: s.articulation,
              fade_ms,
            })),
          ),
      },
      gesture,
    );
  return (
    <section className="grid grid-cols-[minmax(0,1fr)] gap-3" aria-label="Chokes">
      <span className="flex items-center justify-between gap-2">
        <h2 className="head">Chokes</h2>
        <Pick
          label="Chokes of"
          value={piece.id}
          options={kit.order.map((id) => ({ value: id, name: pieces.get(id)?.name ?? id }))}
          onChange={(id) => lookAt({ piece: id })}
        />
      </span>
      <p className="text-small" data-testid="choke-sentence">
        {piece.choke_sentence || `Nothing chokes ${piece.name}; it rings out.`}
      </p>
      <ChokeDiagram piece={piece} />
      {articulations.length > 1 && (
        <table className="border-separate border-spacing-x-[2px] border-spacing-y-[3px] text-tiny">
          <caption className="pb-0.5 text-left text-soft">A strike of the row chokes the column:</caption>
          <thead>
            <tr>
              <td />
              {articulations.map((stopped) => (
                <th
                  key={stopped.id}
                  scope="col"
                  className="h-[64px] align-bottom font-normal text-soft [writing-mode:vertical-rl] rotate-180"
                >
                  {stopped.name}
                </th>
              ))}
              <th scope="col" className="pr-0.5 text-right align-bottom font-normal text-soft">
                ms
              </th>
            </tr>
          </thead>
          <tbody>
            {articulations.map((striking) => (
              <tr key={striking.id}>
                <th scope="row" className="max-w-[86px] truncate pr-1 text-left font-normal text-soft">
                  {striking.name}
                </th>
                {articulations.map((stopped) => {
                  const on = striking.chokes.some((s) => s.articulation === stopped.id);
                  return (
                    <td key={stopped.id}>
                      <button
                        type="button"
                        aria-pressed={on}
                        aria-label={`${striking.name} chokes ${stopped.name}`}
                        title={`${striking.name} ${on ? 'chokes' : 'does not choke'} ${stopped.name}`}
                        className={`grid h-[24px] w-[24px] place-items-center rounded-md border ${
                          on ? 'border-ink bg-ink' : 'border-line bg-card hover:border-edge'
                        }`}
                        onClick={() =>
                          void edit({
                            kind: 'set_choke',
                            articulation: striking.id,
                            stopped: stopped.id,
                            fade_ms: on ? null : (striking.chokes[0]?.fade_ms ?? fade),
                          })
                        }
                      >
                        {on && <i className="h-2.5 w-2.5 rounded-[2px] bg-card" aria-hidden="true" />}
                      </button>
                    </td>
                  );
                })}
                <td className="text-right">
                  {striking.chokes[0] && (
                    <Typed
                      label={`Milliseconds within which ${striking.name} chokes others`}
                      value={striking.chokes[0].fade_ms}
                      onType={(ms) => setFades(striking, within('choke.fade_ms', ms))}
                    />
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {fades.length > 0 && (
        <div className="grid grid-cols-[84px_1fr] items-center gap-x-2 text-small">
          <span>All fade within</span>
          <Slider
            label="Chokes fade within"
            value={fade}
            min={1}
            max={500}
            step={1}
            page={20}
            reset={usual.by_articulation_ms}
            place={{ to: (v) => Math.log(v) / Math.log(500), from: (p) => 500 ** p }}
            show={(v) => (differ && v === fade ? 'differ' : `${v} ms`)}
            onChange={(ms, gesture) => setFades(piece, ms, gesture)}
          />
        </div>
      )}
      <label className="flex items-start gap-2 text-small">
        <input
          type="checkbox"
          className="mt-0.5"
          checked={piece.hand_stop_ms !== null}
          onChange={(event) =>
            void edit({
              kind: 'set_hand_stop',
              piece: piece.id,
              fade_ms: event.target.checked ? usual.by_hand_ms : null,
            })
          }
        />
        <span>A hand on the pad chokes it (aftertouch)</span>
      </label>
      {piece.hand_stop_ms !== null && (
        <div className="grid grid-cols-[84px_1fr] items-center gap-x-2 text-small">
          <span>Fades within</span>
          <Slider
            label="A hand choke fades within"
            value={piece.hand_stop_ms}
            min={5}
            max={500}
            step={5}
            page={20}
            reset={usual.by_hand_ms}
            show={(v) => `${v} ms`}
            onChange={(fade_ms, gesture) => void edit({ kind: 'set_hand_stop', piece: piece.id, fade_ms }, gesture)}
          />
        </div>
      )}
      {elsewhere.map(({ from, choke }) => {
        const found = articulationIn(pieces, choke.articulation);
        return (
          <span key={`${from.id} ${choke.articulation}`} className="flex justify-between gap-2 text-small">
            {from.name} also chokes {found ? `${found.piece.name} · ${found.articulation.name}` : choke.articulation}
            <button
              type="button"
              className="link"
              onClick={() =>
                void edit({
                  kind: 'set_choke',
                  articulation: from.id,
                  stopped: choke.articulation,
                  fade_ms: null,
                })
              }
            >
              No
            </button>
          </span>
        );
      })}
      <span className="flex flex-wrap items-center gap-1.5">
        {piece.has_usual_chokes && (
          <button type="button" className="btn" onClick={() => void edit({ kind: 'choke_as_usual', piece: piece.id })}>
            Set as {piece.family === 'hats' ? 'hats' : 'cymbals'} do
          </button>
        )}
        {others.length > 0 && articulations[0] && (
          <Pick
            label={`${articulations[0].name} also chokes`}
            value=""
            options={[{ value: '', name: 'Choke another piece…' }, ...others]}
            onChange={(stopped) =>
              stopped &&
              void edit({
                kind: 'several',
                said: `${piece.name} chokes another piece`,
                edits: articulations.map((a) => ({
                  kind: 'set_choke' as const,
                  articulation: a.id,
                  stopped,
                  fade_ms: fade,
                })),
              })
            }
          />
        )}
      </span>
    </section>
  );
}
