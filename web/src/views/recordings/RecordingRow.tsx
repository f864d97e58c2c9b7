/** One recording in the list. */

import { Play } from 'lucide-react';
import { memo } from 'react';
import type { Finding, Reading, Rows } from '../../api/calls';
import { decibels } from '../../app/kit/format';
import { layerColour } from '../../ui/colours';
import { Outline } from '../../ui/Outline';
import type { Act } from './rows';

export const GRID =
  'grid grid-cols-[minmax(110px,1.3fr)_minmax(100px,1fr)_112px_62px_58px_58px_50px_74px_26px] items-center gap-2 px-3 max-[1180px]:grid-cols-[minmax(90px,1.2fr)_minmax(80px,1fr)_60px_58px_54px_0px_44px_0px_26px]';

export const ROW = 34;

interface RowProps {
  rows: Rows;
  row: number;
  place: number;
  top: number;
  height: number;
  grid: Reading['articulations'][number] | undefined;
  finding: Finding | undefined;
  chosen: boolean;
  active: boolean;
  out: boolean;
  /** The actions on a row; one stable object, so that rows are not redrawn. */
  act: Act;
}

export const Row = memo(function Row(props: RowProps) {
  const { rows, row, place, top, height, grid, finding, chosen, active, out, act } = props;
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the list takes the keys
    // biome-ignore lint/a11y/useFocusableInteractive: the list has the focus and names the active row
    <div
      id={`row-${row}`}
      role="option"
      aria-selected={chosen}
      onClick={(event) => act.choose(place, { range: event.shiftKey, join: event.ctrlKey || event.metaKey })}
      onDoubleClick={() => act.showWaveforms(place)}
      style={{ position: 'absolute', top, left: 0, right: 0, height, contain: 'strict' }}
      className={`${GRID} cursor-default border-b border-line ${chosen ? 'bg-sunk' : ''} ${
        active ? 'shadow-[inset_3px_0_0_var(--plum)]' : ''
      } ${out ? 'opacity-50' : ''}`}
    >
      <span className="num truncate" title={finding ? finding.sentence : rows.path[row]}>
        {finding && <i className="mr-1.5 inline-block h-2 w-2 rounded-full bg-amber-line" aria-hidden="true" />}
        {rows.path[row]?.split('/').pop()}
      </span>
      <span className="truncate text-small">
        {finding ? (
          <b className="text-amber">{finding.title}</b>
        ) : (
          <>
            {grid?.piece} · {grid?.articulation} <span className="num text-faint">{rows.label[row]}</span>
          </>
        )}
      </span>
      <Outline
        outline={rows.outline[row] ?? ''}
        width={108}
        height={24}
        colour={layerColour(Math.max(1, rows.step[row] ?? 1), grid?.sizes.length ?? 1)}
      />
      <span className="num text-right">{decibels(rows.level_db[row] ?? 0)}</span>
      <span className="num text-right">{(rows.start_ms[row] ?? 0).toFixed(1)}</span>
      <span className="num overflow-hidden text-right">{((rows.length_ms[row] ?? 0) / 1000).toFixed(2)} s</span>
      <span className="num text-right">{decibels(rows.peak_dbfs[row] ?? 0)}</span>
      <span className="num overflow-hidden text-right">{((rows.centroid_hz[row] ?? 0) / 1000).toFixed(1)} k</span>
      {/* For the pointer; by keyboard the space bar plays the active row. */}
      {/* biome-ignore lint/a11y/useKeyWithClickEvents: the list takes the keys */}
      {/* biome-ignore lint/a11y/noStaticElementInteractions: a control inside an option would not be announced */}
      <span
        className="cursor-pointer rounded-md p-1 text-soft hover:bg-line"
        title={`Hear ${rows.path[row]}`}
        onClick={(event) => {
          event.stopPropagation();
          act.hear(row);
        }}
      >
        <Play size={12} aria-hidden="true" />
      </span>
    </div>
  );
});
