/** The settings of the selection: a layer's level and blend, or the trims of one or several takes. */

import { Maximize2 } from 'lucide-react';
import { memo, useDeferredValue } from 'react';
import type { Articulation, KitState, Piece, Take } from '../../api/calls';
import { useRecordings } from '../../app/importing/recordings';
import { count, decibels, signed } from '../../app/kit/format';
import { useKit } from '../../app/kit/kitStore';
import { useLookedAt } from '../../app/kit/place';
import { useHitOf } from '../../app/playing/strikes';
import { type Trim, TrimSliders } from '../../app/takes/TrimSliders';
import { openWaveforms } from '../../app/waveforms/opened';
import { layerColour } from '../../ui/colours';
import { Outline } from '../../ui/Outline';
import { Pick } from '../../ui/Pick';
import { Slider } from '../../ui/Slider';
import { useSelected } from './selection';

export const TakeDetail = memo(function TakeDetail({
  piece,
  articulation,
}: {
  piece: Piece;
  articulation: Articulation;
}) {
  const { takes, layer } = useSelected(articulation);
  const { takeId } = useLookedAt();
  // Strikes may come faster than this can be drawn; then only the latest is shown.
  const last = useDeferredValue(useHitOf(articulation.id)?.takeId);
  if (layer !== null) return <LayerDetail articulation={articulation} number={layer} />;
  const fallback = takeId ?? last ?? articulation.takes[0]?.id;
  const shown = takes.length ? takes : fallback ? [fallback] : [];
  const title = takes.length ? 'Selected' : takeId ? 'Looked at' : last ? 'Last struck' : 'First take';
  return shown.length ? <Takes piece={piece} articulation={articulation} ids={shown} title={title} /> : null;
});

function LayerDetail({ articulation, number }: { articulation: Articulation; number: number }) {
  const edit = useKit((s) => s.edit);
  const layer = articulation.layers[number];
  if (!layer) return null;
  const last = number === articulation.layers.length - 1;
  return (
    <section className="grid grid-cols-[minmax(0,1fr)] gap-2" aria-label="Layer">
      <h2 className="head">Selected</h2>
      <h2 className="flex items-center gap-2 text-[15px]">
        <i
          className="inline-block h-4 w-3 rounded"
          style={{ background: layerColour(number, articulation.layers.length) }}
          aria-hidden="true"
        />
        Layer {number + 1} · {layer.low}–{layer.high}
      </h2>
      <dl className="grid grid-cols-[auto_1fr] items-center gap-x-3 gap-y-1.5 text-small [&_dd]:text-right">
        <dt>Loudness</dt>
        <dd className="num">{decibels(layer.level_db)} dB</dd>
        <dt>Takes</dt>
        <dd className="num">{layer.takes.length}</dd>
        <dt>Level</dt>
        <dd>
          <Slider
            label={`Level of layer ${number + 1}`}
            value={layer.gain_db}
            min={-24}
            max={24}
            step={0.1}
            page={1}
            reset={0}
            tone="pan"
            show={(v) => `${signed(v)} dB`}
            onChange={(gain_db, gesture) =>
              void edit({ kind: 'set_layer', articulation: articulation.id, layer: number, gain_db }, gesture)
            }
          />
        </dd>
        {!last && (
          <>
            <dt title="Number of velocities over which this layer cross-fades into the next">Blend with next</dt>
            <dd>
              <Slider
                label={`Blend of layer ${number + 1} into the next`}
                value={layer.blend}
                min={0}
                max={32}
                step={1}
                page={4}
                reset={0}
                show={(v) => (v ? String(v) : 'none')}
                onChange={(blend, gesture) =>
                  void edit({ kind: 'set_layer', articulation: articulation.id, layer: number, blend }, gesture)
                }
              />
            </dd>
          </>
        )}
      </dl>
    </section>
  );
}

function Takes({
  piece,
  articulation,
  ids,
  title,
}: {
  piece: Piece;
  articulation: Articulation;
  ids: string[];
  title: string;
}) {
  const edit = useKit((s) => s.edit);
  const chosen = articulation.takes.filter((take) => ids.includes(take.id));
  const take = chosen[0];
  if (!take) return null;
  const many = chosen.length > 1;
  const layer = articulation.layers.findIndex((l) => l.takes.includes(take.id));
  const who = many ? 'the selected takes' : `take ${take.label}`;
  const trim = (change: Trim) =>
    void edit({ kind: 'trim_takes', articulation: articulation.id, takes: ids, ...change });
  return (
    <section className="grid grid-cols-[minmax(0,1fr)] gap-2" aria-label="Take">
      <h2 className="head">{title}</h2>
      <div>
        <h2 className="flex items-center justify-between gap-2 text-[15px]">
          <span className="truncate">
            {many
              ? count(chosen.length, 'take')
              : `${layer < 0 ? 'Unused' : `Layer ${layer + 1}`} · take ${take.label}`}
          </span>
          {!many && (
            <button
              type="button"
              className="rounded-md p-1 text-soft hover:bg-sunk"
              aria-label={`Open waveforms of take ${take.label}`}
              title="Open waveforms: every microphone on one time axis"
              onClick={() => openWaveforms(articulation.id, take.id)}
            >
              <Maximize2 size={15} />
            </button>
          )}
        </h2>
        <p className="truncate text-small text-soft" title={take.file}>
          {many ? chosen.map((t) => t.label).join(', ') : take.file.split('/').pop()}
        </p>
      </div>
      <dl className="grid grid-cols-[auto_1fr] items-center gap-x-2.5 gap-y-0.5 text-small [&_dd]:text-right">
        {!many && (
          <>
            <dt>Loudness</dt>
            <dd className="num">
              {decibels(take.level_db)} dB{take.hand ? ` · ${take.hand}` : ''}
            </dd>
          </>
        )}
        <TrimSliders
          articulation={articulation.id}
          takes={chosen}
          fields={['gain_db', 'pan', 'tune_cents', 'start_trim_ms']}
          who={who}
        />
        <dt>Layer</dt>
        <dd>
          <Pick
            label={many ? 'Layer of these takes' : 'Layer of this take'}
            value={layer}
            options={[
              ...articulation.layers.map((l, number) => ({
                value: number,
                name: `${number + 1} · ${l.low}–${l.high}`,
              })),
              { value: -1, name: 'unused' },
            ]}
            onChange={(to) =>
              to !== layer &&
              void edit({
                kind: 'move_takes',
                articulation: articulation.id,
                takes: ids,
                layer: to < 0 ? null : to,
              })
            }
          />
        </dd>
      </dl>
      <div className="flex flex-wrap gap-1.5 [&_.btn]:px-2 [&_.btn]:py-1">
        <button type="button" className="btn grow justify-center" onClick={() => trim({ enabled: !take.enabled })}>
          {take.enabled ? (many ? 'Disable takes' : 'Disable take') : many ? 'Enable takes' : 'Enable take'}
        </button>
        <button
          type="button"
          className="btn"
          aria-pressed={take.inverted}
          title="Flip polarity"
          onClick={() => trim({ inverted: !take.inverted })}
        >
          Ø {take.inverted ? 'flipped' : 'normal'}
        </button>
      </div>
      {!many && <Microphones piece={piece} articulation={articulation} take={take} />}
    </section>
  );
}

function Microphones(props: { piece: Piece; articulation: Articulation; take: Take }) {
  const mics = useKit((s) => (s.kit as KitState).head.mics);
  const player = useKit((s) => s.player);
  const recordings = useRecordings(props.articulation.id, props.take);
  const names = new Map(mics.map((mic) => [mic.id, mic]));
  return (
    <>
      <h2 className="head mt-1">Microphones</h2>
      <ul className="grid grid-cols-[minmax(0,1fr)] gap-1">
        {recordings.map((recording) => {
          const mic = names.get(recording.mic);
          return (
            <li key={recording.mic}>
              <button
                type="button"
                title={`${recording.path}\nPress to hear this microphone alone`}
                className="block w-full rounded-md text-left hover:bg-sunk"
                onClick={() => player?.audition(props.articulation.id, props.take.id, recording.mic)}
              >
                <span className="flex justify-between text-tiny">
                  <span className={props.piece.own_mics.includes(recording.mic) ? 'font-semibold' : 'text-soft'}>
                    {mic?.name}
                    {mic?.inverted ? ' Ø' : ''}
                  </span>
                  <span className="num text-[11.5px] text-faint">
                    {signed(recording.start_ms - (recording.cut_ms ?? props.take.start_ms))} ms
                    <span className="max-[1180px]:hidden"> · {decibels(recording.peak_dbfs)} dBFS</span>
                  </span>
                </span>
                <Outline outline={recording.outline} width={232} height={18} colour="var(--v5)" />
              </button>
            </li>
          );
        })}
      </ul>
    </>
  );
}
