/** Which stroke stops which: a sentence, a diagram, and a table of what is struck against what it stops. */
import type { Articulation, KitState, Piece } from '../../api/calls';
import { articulationIn, useKit } from '../../app/kit/kitStore';
import { usePlace } from '../../app/kit/place';
import { rules, within } from '../../app/kit/rules';
import { Pick } from '../../ui/Pick';
import { Slider } from '../../ui/Slider';
import { Typed } from '../../ui/Typed';
import { usePieceHere } from './pieceHere';
import { StopsDiagram } from './StopsDiagram';

export function Silences() {
  const kit = useKit((s) => s.kit) as KitState;
  const pieces = useKit((s) => s.pieces);
  const edit = useKit((s) => s.edit);
  const lookAt = usePlace((s) => s.lookAt);
  const piece = usePieceHere(() => true);
  if (!piece) return <p className="text-small text-soft">No pieces yet.</p>;
  const usual = rules().fades;
  const strokes = piece.articulations;
  const elsewhere = strokes.flatMap((a) =>
    a.silences.filter((s) => !strokes.some((b) => b.id === s.articulation)).map((s) => ({ from: a, silence: s })),
  );
  const fades = strokes.flatMap((a) => a.silences.map((s) => s.fade_ms));
  const fade = fades[0] ?? usual.by_stroke_ms;
  const differ = fades.some((ms) => ms !== fade);
  const others = [...pieces.values()]
    .filter((p) => p.id !== piece.id)
    .flatMap((p) => p.articulations.map((a) => ({ value: a.id, name: `${p.name} · ${a.name}` })));
  /** How fast everything that a stroke, or every stroke of the piece, stops fades. */
  const setFades = (of: Piece | Articulation, fade_ms: number, gesture?: string) =>
    void edit(
      {
        kind: 'several',
        said: `${of.name} stops others within ${fade_ms} ms`,
        edits: strokes
          .filter((a) => of === piece || of === a)
          .flatMap((a) =>
            a.silences.map((s) => ({
              kind: 'set_silence' as const,
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
      <p className="text-small" data-testid="silence-sentence">
        {piece.silence_sentence || `Nothing stops ${piece.name}; it rings until it has died away.`}
      </p>
      <StopsDiagram piece={piece} />
      {strokes.length > 1 && (
        <table className="border-separate border-spacing-x-[2px] border-spacing-y-[3px] text-tiny">
          <caption className="pb-0.5 text-left text-soft">Struck at the left, it stops:</caption>
          <thead>
            <tr>
              <td />
              {strokes.map((stopped) => (
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
            {strokes.map((striking) => (
              <tr key={striking.id}>
                <th scope="row" className="max-w-[86px] truncate pr-1 text-left font-normal text-soft">
                  {striking.name}
                </th>
                {strokes.map((stopped) => {
                  const on = striking.silences.some((s) => s.articulation === stopped.id);
                  return (
                    <td key={stopped.id}>
                      <button
                        type="button"
                        aria-pressed={on}
                        aria-label={`${striking.name} stops ${stopped.name}`}
                        title={`${striking.name} ${on ? 'stops' : 'does not stop'} ${stopped.name}`}
                        className={`grid h-[24px] w-[24px] place-items-center rounded-md border ${
                          on ? 'border-ink bg-ink' : 'border-line bg-card hover:border-edge'
                        }`}
                        onClick={() =>
                          void edit({
                            kind: 'set_silence',
                            articulation: striking.id,
                            stopped: stopped.id,
                            fade_ms: on ? null : (striking.silences[0]?.fade_ms ?? fade),
                          })
                        }
                      >
                        {on && <i className="h-2.5 w-2.5 rounded-[2px] bg-card" aria-hidden="true" />}
                      </button>
                    </td>
                  );
                })}
                <td className="text-right">
                  {striking.silences[0] && (
                    <Typed
                      label={`Milliseconds within which ${striking.name} stops others`}
                      value={striking.silences[0].fade_ms}
                      onType={(ms) => setFades(striking, within('silence.fade_ms', ms))}
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
          <span>All within</span>
          <Slider
            label="Chokes fade within"
            value={fade}
            min={1}
            max={500}
            step={1}
            page={20}
            reset={usual.by_stroke_ms}
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
        <span>A hand on the pad stops it (aftertouch)</span>
      </label>
      {piece.hand_stop_ms !== null && (
        <div className="grid grid-cols-[84px_1fr] items-center gap-x-2 text-small">
          <span>Fades within</span>
          <Slider
            label="A hand stop fades within"
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
      {elsewhere.map(({ from, silence }) => {
        const found = articulationIn(pieces, silence.articulation);
        return (
          <span key={`${from.id} ${silence.articulation}`} className="flex justify-between gap-2 text-small">
            {from.name} also stops {found ? `${found.piece.name} · ${found.stroke.name}` : silence.articulation}
            <button
              type="button"
              className="link"
              onClick={() =>
                void edit({
                  kind: 'set_silence',
                  articulation: from.id,
                  stopped: silence.articulation,
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
        {piece.silences_by_itself && (
          <button
            type="button"
            className="btn"
            onClick={() => void edit({ kind: 'silence_by_itself', piece: piece.id })}
          >
            Set as {piece.family === 'hats' ? 'hats' : 'cymbals'} do
          </button>
        )}
        {others.length > 0 && strokes[0] && (
          <Pick
            label={`${strokes[0].name} also stops`}
            value=""
            options={[{ value: '', name: 'Stop another piece…' }, ...others]}
            onChange={(stopped) =>
              stopped &&
              void edit({
                kind: 'several',
                said: `${piece.name} stops another piece`,
                edits: strokes.map((a) => ({
                  kind: 'set_silence' as const,
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
