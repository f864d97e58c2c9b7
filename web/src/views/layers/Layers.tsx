/** Layers: lay a stroke's takes out by strength, place the boundaries, choose how repeats alternate. */
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { type Articulation, get, type KitState, type Piece, type RecordingShown } from '../../api/calls';
import { FindingsHere } from '../../app/Findings';
import { decibels, layerColour, signed } from '../../app/format';
import { notesOf, useKit } from '../../app/kitStore';
import { useLookedAt, usePlace } from '../../app/place';
import { Shelf } from '../../app/Shelf';
import { useStrikes } from '../../app/strikes';
import { Pick } from '../../ui/Pick';
import { Shape } from '../../ui/Shape';
import { Skin } from '../../ui/Skin';
import { Slider } from '../../ui/Slider';
import { Dynamics } from './Dynamics';

export const ORDERS = [
  { value: 'in_turn' as const, name: 'In turn' },
  { value: 'shuffled' as const, name: 'Shuffled' },
  { value: 'random' as const, name: 'Random' },
  { value: 'together' as const, name: 'All together' },
];

export default function Layers() {
  const { piece, stroke } = useLookedAt();
  return (
    <div className="grid min-h-0 grid-cols-[208px_minmax(0,1fr)_264px] max-[1180px]:grid-cols-[180px_minmax(0,1fr)_212px]">
      <Shelf />
      {piece && stroke ? (
        <StrokeLayers piece={piece} stroke={stroke} />
      ) : (
        <main className="grid place-content-center gap-1 text-center text-soft">
          <h1 className="text-ink">No pieces yet</h1>
          <p>Bring recordings in under Recordings and make pieces of them.</p>
        </main>
      )}
      <aside
        className="grid grid-cols-[minmax(0,1fr)] content-start gap-4 overflow-y-auto border-l border-line bg-side p-3.5"
        aria-label="Selected take"
      >
        {piece && stroke && <TakeDetail piece={piece} stroke={stroke} />}
        {stroke && (
          <FindingsHere
            belongs={(f) =>
              f.where.articulation === stroke.id || (!f.where.articulation && f.where.piece === piece?.id)
            }
          />
        )}
      </aside>
    </div>
  );
}

function StrokeLayers({ piece, stroke }: { piece: Piece; stroke: Articulation }) {
  const kit = useKit((s) => s.kit) as KitState;
  const edit = useKit((s) => s.edit);
  const player = useKit((s) => s.player);
  const lookAt = usePlace((s) => s.lookAt);
  const here = useStrikes((s) => s.lastOf.get(stroke.id)) ?? null;
  const [linked, setLinked] = useState(true);
  return (
    <main className="flex min-h-0 flex-col gap-3 overflow-hidden px-[18px] py-3.5">
      <div className="flex flex-wrap items-center gap-2.5">
        <h1>{piece.name}</h1>
        {piece.articulations.map((a) => {
          const note = notesOf(kit, a.id)[0];
          return (
            <button
              key={a.id}
              type="button"
              className="chip"
              aria-pressed={a.id === stroke.id}
              onClick={() => lookAt({ articulation: a.id })}
            >
              {a.name}
              <span className="num text-faint">
                {note === undefined ? 'no note' : `${kit.head.note_names[note]} ${note}`}
              </span>
            </button>
          );
        })}
      </div>
      <div className="grid shrink-0 grid-cols-[252px_minmax(0,1fr)] gap-3 max-[1180px]:grid-cols-[190px_minmax(0,1fr)]">
        <section className="card" aria-label="Strike">
          <h2>Strike</h2>
          <p className="text-tiny text-soft">Rim is soft, centre is hard; keys 1 to 8</p>
          <div className="mt-1.5 grid justify-center max-[1180px]:-mx-3 [&>svg]:h-auto [&>svg]:max-w-full">
            <Skin
              stroke={stroke}
              size={222}
              hit={here ? { layer: here.layer, takeId: here.takeId, velocity: here.velocity } : null}
              onStrike={(velocity) => player?.strikeArticulation('skin', stroke.id, velocity)}
              label={`Strike ${piece.name} ${stroke.name}`}
            />
          </div>
        </section>
        <section className="card flex min-w-0 flex-col" aria-label="Dynamics">
          <div className="flex flex-wrap items-start gap-2">
            <div className="grow">
              <h2>Dynamics</h2>
              <p className="text-tiny text-soft max-[1180px]:hidden">Where each take plays, and how loud</p>
            </div>
            <label
              className="flex items-center gap-1.5 self-center text-small text-soft"
              title="Both layers move with their boundary"
            >
              <input type="checkbox" checked={linked} onChange={(event) => setLinked(event.target.checked)} /> linked
            </label>
            <button
              type="button"
              className="btn btn-go"
              onClick={() => void edit({ kind: 'split_by_loudness', articulation: stroke.id })}
            >
              Split by loudness
            </button>
            <button
              type="button"
              className="btn"
              onClick={() => void edit({ kind: 'split_evenly', articulation: stroke.id })}
            >
              Split evenly
            </button>
          </div>
          <Dynamics stroke={stroke} linked={linked} hit={here} />
        </section>
      </div>
      <TakeGrid stroke={stroke} hitTake={here?.takeId ?? null} hitAt={here?.at ?? 0} />
    </main>
  );
}

function TakeGrid({ stroke, hitTake, hitAt }: { stroke: Articulation; hitTake: string | null; hitAt: number }) {
  const edit = useKit((s) => s.edit);
  const player = useKit((s) => s.player);
  const { takeId } = useLookedAt();
  const lookAt = usePlace((s) => s.lookAt);
  const byId = new Map(stroke.takes.map((take) => [take.id, take]));
  const most = Math.max(...stroke.layers.map((layer) => layer.takes.length), 1);
  const columns =
    'grid grid-cols-[104px_112px_72px_minmax(0,1fr)] max-[1180px]:grid-cols-[88px_96px_60px_minmax(0,1fr)] items-center gap-2';
  const outside = (level: number, middle: number) => Math.abs(level - middle) > 3;
  return (
    <section className="flex min-h-0 grow flex-col" aria-label="Takes by layer">
      <div className={`${columns} px-3 pb-1 text-tiny font-semibold text-faint`}>
        <span>Velocity</span>
        <span>Order</span>
        <span>Spread</span>
        <span className="flex min-w-0 items-center justify-between gap-2">
          <span className="truncate">Takes, and how far each is from its layer in dB</span>
          <Pick
            label="Order of every layer"
            value={
              new Set(stroke.layers.map((l) => l.order)).size === 1 ? (stroke.layers[0]?.order ?? 'in_turn') : 'mixed'
            }
            options={[
              ...(new Set(stroke.layers.map((l) => l.order)).size === 1
                ? []
                : [{ value: 'mixed' as const, name: 'Mixed orders' }]),
              ...ORDERS.map((o) => ({ ...o, name: `Every layer: ${o.name.toLowerCase()}` })),
            ]}
            onChange={(order) =>
              order !== 'mixed' && void edit({ kind: 'set_order', articulation: stroke.id, layer: null, order })
            }
            className="py-0.5 text-tiny"
          />
        </span>
      </div>
      <div className="grid min-h-0 content-start gap-[5px] overflow-y-auto pb-2">
        {[...stroke.layers.keys()].reverse().map((number) => {
          const layer = stroke.layers[number];
          if (!layer) return null;
          return (
            <div key={number} className={`${columns} min-h-[36px] rounded-[9px] border border-line bg-card px-2.5`}>
              <span className="num flex items-center gap-2">
                <i
                  className="inline-block h-[22px] w-3 rounded"
                  style={{ background: layerColour(number, stroke.layers.length) }}
                  aria-hidden="true"
                />
                {layer.low}–{layer.high}
              </span>
              <Pick
                label={`Order of layer ${number + 1}`}
                value={layer.order}
                options={ORDERS}
                onChange={(order) => void edit({ kind: 'set_order', articulation: stroke.id, layer: number, order })}
                className="border-transparent bg-transparent px-1"
              />
              <span className={`num ${layer.spread_db > 3 ? 'font-bold text-amber' : ''}`}>
                {layer.spread_db.toFixed(1)} dB
              </span>
              <span
                className="grid gap-1.5 overflow-x-auto p-[3px]"
                style={{ gridTemplateColumns: `repeat(${most}, minmax(46px, 84px))` }}
              >
                {Array.from({ length: most }, (_, column) => {
                  const take = byId.get(layer.takes[column] ?? '');
                  if (!take) {
                    return <span key={`none ${column}`} className="hatch h-[28px] rounded-md" title="No take here" />;
                  }
                  const sounded = hitTake === take.id;
                  const far = outside(take.level_db, layer.level_db);
                  return (
                    <button
                      key={take.id}
                      type="button"
                      data-take={take.id}
                      data-hit={sounded ? hitAt : undefined}
                      aria-pressed={takeId === take.id}
                      aria-label={`Take ${take.label}${take.enabled ? '' : ', left out'}${far ? ', stands out' : ''}${sounded ? ', just sounded' : ''}`}
                      title={take.file}
                      onClick={() => {
                        lookAt({ articulation: stroke.id, take: take.id });
                        player?.audition(stroke.id, take.id);
                      }}
                      className={`relative h-[28px] overflow-hidden rounded-md bg-sunk ${take.enabled ? '' : 'opacity-40'} ${
                        sounded
                          ? 'outline-[2.5px] outline-plum outline-solid'
                          : takeId === take.id
                            ? 'outline-2 outline-ink outline-solid'
                            : far
                              ? 'outline-[1.5px] outline-amber-line outline-solid'
                              : ''
                      }`}
                    >
                      <span className="absolute top-0 left-0">
                        <Shape
                          shape={take.shape}
                          width={84}
                          height={28}
                          colour={layerColour(Math.max(1, number), stroke.layers.length)}
                        />
                      </span>
                      <span
                        className={`num absolute top-0 right-1 text-[11.5px] leading-[14px] ${far ? 'font-bold text-amber' : 'text-soft'}`}
                      >
                        {take.enabled ? signed(take.level_db - layer.level_db) : 'out'}
                      </span>
                    </button>
                  );
                })}
              </span>
            </div>
          );
        })}
      </div>
    </section>
  );
}

function TakeDetail({ piece, stroke }: { piece: Piece; stroke: Articulation }) {
  const kit = useKit((s) => s.kit) as KitState;
  const edit = useKit((s) => s.edit);
  const { takeId } = useLookedAt();
  const last = useStrikes((s) => s.lastOf.get(stroke.id));
  const shownId = takeId ?? last?.takeId ?? stroke.takes[0]?.id;
  const take = stroke.takes.find((t) => t.id === shownId);
  const layer = stroke.layers.findIndex((l) => l.takes.includes(shownId ?? ''));
  const { data: recordings = [] } = useQuery({
    queryKey: ['recordings', kit.id, stroke.id, shownId],
    queryFn: () =>
      get<RecordingShown[]>(
        `/kits/${kit.id}/recordings?articulation=${encodeURIComponent(stroke.id)}&take=${encodeURIComponent(shownId ?? '')}`,
      ),
    enabled: take !== undefined,
    staleTime: 60_000,
  });
  if (!take) return null;
  const names = new Map(kit.head.mics.map((mic) => [mic.id, mic]));
  return (
    <section className="grid grid-cols-[minmax(0,1fr)] gap-2" aria-label="Take">
      <h3>{takeId ? 'Selected' : last ? 'Last struck' : 'First take'}</h3>
      <div>
        <h2 className="text-[15px]">
          Layer {layer + 1} · take {take.label}
        </h2>
        <p className="truncate text-small text-soft" title={take.file}>
          {take.file.split('/').pop()}
        </p>
      </div>
      <dl className="grid grid-cols-[auto_1fr] items-center gap-x-3 gap-y-1 text-small [&_dd]:text-right">
        <dt>Loudness</dt>
        <dd className="num">{decibels(take.level_db)} dB</dd>
        <dt>Starts at</dt>
        <dd className="num">{take.start_ms.toFixed(1)} ms</dd>
        <dt>Hand</dt>
        <dd>{take.hand ?? 'not named'}</dd>
        <dt>Trim</dt>
        <dd>
          <Slider
            label={`Trim of take ${take.label}`}
            value={take.gain_db}
            min={-24}
            max={24}
            step={0.1}
            page={1}
            reset={0}
            tone="pan"
            show={(v) => `${signed(v)} dB`}
            onChange={(gain_db, gesture) =>
              void edit({ kind: 'trim_take', articulation: stroke.id, take: take.id, gain_db, enabled: null }, gesture)
            }
          />
        </dd>
        <dt>Layer</dt>
        <dd>
          <Pick
            label="Layer of this take"
            value={layer}
            options={stroke.layers.map((l, number) => ({ value: number, name: `${number + 1} · ${l.low}–${l.high}` }))}
            onChange={(to) =>
              to !== layer && void edit({ kind: 'move_take', articulation: stroke.id, take: take.id, layer: to })
            }
          />
        </dd>
      </dl>
      <button
        type="button"
        className="btn justify-center"
        onClick={() =>
          void edit({
            kind: 'trim_take',
            articulation: stroke.id,
            take: take.id,
            gain_db: null,
            enabled: !take.enabled,
          })
        }
      >
        {take.enabled ? 'Leave this take out' : 'Let this take play again'}
      </button>
      <h3 className="mt-1">Microphones</h3>
      <ul className="grid grid-cols-[minmax(0,1fr)] gap-1.5">
        {recordings.map((recording) => (
          <li key={recording.mic} title={recording.path}>
            <span className="flex justify-between text-tiny">
              <span className={piece.own_mics.includes(recording.mic) ? 'font-semibold' : 'text-soft'}>
                {names.get(recording.mic)?.name}
                {names.get(recording.mic)?.inverted ? ' Ø' : ''}
              </span>
              <span className="num text-[11.5px] text-faint">
                {signed(recording.start_ms - take.start_ms)} ms
                <span className="max-[1180px]:hidden"> · {decibels(recording.peak_dbfs)} dBFS</span>
              </span>
            </span>
            <Shape shape={recording.shape} width={232} height={18} colour="var(--v5)" />
          </li>
        ))}
      </ul>
    </section>
  );
}
