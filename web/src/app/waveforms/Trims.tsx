/** The take's trims and its measurements. */

import type { KitState, RecordingShown, Take } from '../../api/calls';
import { layerColour } from '../../ui/colours';
import { decibels } from '../kit/format';
import { useKit } from '../kit/kitStore';
import { rules } from '../kit/rules';
import { type Trim, TrimSliders } from '../takes/TrimSliders';

/** Every trim at its default; an end of 0 plays the whole take. */
const asRecorded = () =>
  Object.fromEntries(Object.entries(rules().trims).map(([name, { unit }]) => [name, unit === 'switch' ? false : 0]));

export function Trims({
  articulationId,
  take,
  recordings,
}: {
  articulationId: string;
  take: Take;
  recordings: RecordingShown[];
}) {
  const edit = useKit((s) => s.edit);
  const mics = (useKit((s) => s.kit) as KitState).head.mics;
  const trim = (change: Trim) =>
    void edit({ kind: 'trim_takes', articulation: articulationId, takes: [take.id], ...change });
  const longest = Math.max(100, ...recordings.map((r) => (r.frames * 1000) / r.rate_hz - take.start_ms));
  const clipped = recordings.reduce((sum, r) => sum + r.clipped_runs, 0);
  return (
    <aside className="grid content-start gap-2 overflow-y-auto" aria-label="Take settings">
      <h2 className="head">Take settings; the recording itself never changes</h2>
      <dl className="grid grid-cols-[auto_1fr] items-center gap-x-2.5 gap-y-1 text-small">
        <TrimSliders articulation={articulationId} takes={[take]} who={`take ${take.label}`} longest={longest} />
      </dl>
      <div className="flex flex-wrap gap-1.5">
        <button
          type="button"
          className="btn"
          aria-pressed={take.inverted}
          onClick={() => trim({ inverted: !take.inverted })}
        >
          Ø {take.inverted ? 'polarity flipped' : 'polarity normal'}
        </button>
        <button type="button" className="btn" onClick={() => trim({ enabled: !take.enabled })}>
          {take.enabled ? 'Disable take' : 'Enable take'}
        </button>
        <button type="button" className="btn" onClick={() => trim(asRecorded())}>
          Reset to recorded
        </button>
      </div>
      <h2 className="head mt-2">Measured</h2>
      <dl className="grid grid-cols-[1fr_auto] gap-y-0.5 text-small [&_dd]:text-right">
        <dt>Loudness</dt>
        <dd className="num">{decibels(take.level_db)} dB</dd>
        <dt>Starts at</dt>
        <dd className="num">{take.start_ms.toFixed(2)} ms</dd>
        {clipped > 0 && (
          <>
            <dt className="text-amber">Clipped</dt>
            <dd className="num text-amber">{clipped} runs</dd>
          </>
        )}
        {recordings.map((r) => (
          <div key={r.mic} className="contents">
            <dt className="truncate text-soft" title={r.path}>
              <i
                className="mr-1.5 inline-block h-2.5 w-2.5 rounded-sm"
                style={{ background: layerColour(Math.max(0, Math.round((r.peak_dbfs + 60) / 12)), 6) }}
              />
              {mics.find((m) => m.id === r.mic)?.name ?? r.mic}
            </dt>
            <dd className="num">{decibels(r.peak_dbfs)}</dd>
          </div>
        ))}
      </dl>
    </aside>
  );
}
