/** Bleed: how much of each piece is heard in each microphone, as a table. */
import { useMemo, useRef } from 'react';
import { create } from 'zustand';
import type { KitState, Piece } from '../../../api/calls';
import { micsAlone } from '../../../app/comparing/solo';
import { hyphenable, signed } from '../../../app/kit/format';
import { useKit } from '../../../app/kit/kitStore';
import { Fader } from '../../../ui/Fader';
import { CellSlider } from './CellSlider';
import { besides, type Cell, cellsOf, micsHeard } from './cells';

/** The selected cell. */
export const useCell = create<{ piece: string; mic: string }>(() => ({ piece: '', mic: '' }));

const MARK = 'tag h-6 w-6 px-0 py-0 text-center';

export function useCells() {
  const kit = useKit((s) => s.kit) as KitState;
  const pieces = useKit((s) => s.pieces);
  return useMemo(() => {
    const ordered = kit.order.flatMap((id) => pieces.get(id) ?? []);
    return { kit, pieces: ordered, mics: micsHeard(kit, ordered), cells: cellsOf(kit, ordered) };
  }, [kit, pieces]);
}

export function Bleed() {
  const { pieces, mics, cells } = useCells();
  const edit = useKit((s) => s.edit);
  const soloed = micsAlone.use((s) => s.ids);
  const sheet = useRef<HTMLTableElement>(null);
  const ids = mics.map((mic) => mic.id);
  if (!pieces.length) {
    return (
      <p className="text-soft">No pieces yet: make some under Recordings, and this shows what each microphone hears.</p>
    );
  }
  const go = (piece: string, mic: string) =>
    sheet.current?.querySelector<HTMLElement>(`[data-cell="${CSS.escape(`${piece} ${mic}`)}"]`)?.focus();
  return (
    <>
      <div className="relative min-h-0 overflow-auto" data-testid="bleed">
        <table ref={sheet} className="w-full table-fixed border-separate border-spacing-x-[3px] border-spacing-y-[3px]">
          <caption className="sr-only">
            How much of every piece is heard in every microphone. Up and down change a cell, left and right move along
            the row, Space turns it on or off.
          </caption>
          <colgroup>
            <col className="w-[148px]" />
            {mics.map((mic) => (
              <col key={mic.id} className="w-[46px]" />
            ))}
            {mics.length < 12 && <col />}
          </colgroup>
          <thead>
            <tr>
              <th
                scope="col"
                className="sticky top-0 left-0 z-30 bg-paper text-left align-bottom text-tiny font-semibold text-faint"
              >
                Piece level, all microphones
              </th>
              {mics.map((mic) => (
                <th key={mic.id} scope="col" className="sticky top-0 z-20 bg-paper pb-0.5 text-left align-bottom">
                  <span className="line-clamp-2 text-tiny leading-[14px] font-semibold" title={mic.name}>
                    {hyphenable(mic.name)}
                  </span>
                  <span className="flex flex-wrap gap-[3px] pt-0.5">
                    <button
                      type="button"
                      className={`${MARK} aria-pressed:border-ink aria-pressed:bg-ink aria-pressed:text-card`}
                      aria-pressed={mic.muted}
                      aria-label={`Mute ${mic.name}`}
                      title="Mute it in every channel"
                      onClick={() => void edit({ kind: 'set_mic', mic: mic.id, muted: !mic.muted })}
                    >
                      M
                    </button>
                    <button
                      type="button"
                      className={`${MARK} aria-pressed:border-plum aria-pressed:bg-plum aria-pressed:text-card`}
                      aria-pressed={soloed.has(mic.id)}
                      aria-label={`Solo ${mic.name}`}
                      title="Solo: hear this microphone alone (listening only; the kit does not change)"
                      onClick={() => micsAlone.toggle(mic.id)}
                    >
                      S
                    </button>
                  </span>
                </th>
              ))}
              {mics.length < 12 && <td />}
            </tr>
          </thead>
          <tbody>
            {pieces.map((piece, place) => (
              <Row
                key={piece.id}
                piece={piece}
                row={cells.get(piece.id) as Map<string, Cell>}
                mics={mics}
                onGo={(mic, sideways, down) => {
                  const row = pieces[place + down];
                  if (!row) return;
                  const there = cells.get(row.id) as Map<string, Cell>;
                  const to = sideways ? besides(there, ids, mic, sideways as 1 | -1) : there.has(mic) ? mic : null;
                  const nearest = to ?? (down ? (besides(there, ids, mic, 1) ?? besides(there, ids, mic, -1)) : null);
                  if (nearest) go(row.id, nearest);
                }}
                filled={mics.length < 12}
              />
            ))}
          </tbody>
        </table>
      </div>
      <p className="flex flex-wrap items-center gap-x-4 gap-y-1 text-tiny text-soft">
        <span className="flex items-center gap-1.5">
          <i className="inline-block h-3 w-4 rounded-[3px] border-[1.5px] border-ink" /> its own microphone
        </span>
        <span className="flex items-center gap-1.5">
          {['var(--v6)', 'var(--v4)', 'var(--v2)'].map((background) => (
            <i key={background} className="inline-block h-3 w-3 rounded-[3px]" style={{ background }} />
          ))}
          recorded as loud as there, softer, far softer
        </span>
        <span className="flex items-center gap-1.5">
          <i className="inline-block h-3 w-4 rounded-[3px] border border-line bg-sunk" /> recorded and off
        </span>
        <span className="flex items-center gap-1.5">
          <i className="hatched inline-block h-3 w-4 rounded-[3px]" /> nothing recorded
        </span>
        <span className="grow text-right text-faint max-[1180px]:hidden">
          drag a cell up or down · arrows nudge it · Space turns it on or off · Ctrl with arrows goes to the next row
        </span>
      </p>
    </>
  );
}

interface RowProps {
  piece: Piece;
  row: ReadonlyMap<string, Cell>;
  mics: KitState['head']['mics'];
  onGo: (mic: string, sideways: number, down: number) => void;
  /** The last column takes the remaining width. */
  filled: boolean;
}

function Row({ piece, row, mics, onGo, filled }: RowProps) {
  const edit = useKit((s) => s.edit);
  const chosen = useCell((s) => (s.piece === piece.id ? s.mic : ''));
  const first = mics.find((mic) => row.has(mic.id))?.id;
  const stop = row.has(chosen) ? chosen : first;
  return (
    <tr>
      <th scope="row" className="sticky left-0 z-10 bg-paper pr-2 text-left font-normal">
        <span className="block truncate text-small leading-4 font-semibold">{piece.name}</span>
        <Fader
          label={`${piece.name} level, all microphones`}
          value={piece.level_db}
          show={(v) => signed(v)}
          onChange={(level_db, gesture) => void edit({ kind: 'set_piece', piece: piece.id, level_db }, gesture)}
        />
      </th>
      {mics.map((mic) => {
        const cell = row.get(mic.id);
        return (
          <td key={mic.id} className="p-0">
            {cell ? (
              <CellSlider
                cell={cell}
                name={`${piece.name} in ${mic.name}`}
                stop={mic.id === stop}
                chosen={chosen === mic.id}
                muted={mic.muted}
                onChoose={() => useCell.setState({ piece: piece.id, mic: mic.id })}
                onGo={(sideways, down) => onGo(mic.id, sideways, down)}
              />
            ) : (
              <div className="hatched h-[34px] rounded-[6px]">
                <span className="sr-only">nothing recorded</span>
              </div>
            )}
          </td>
        );
      })}
      {filled && <td />}
    </tr>
  );
}
