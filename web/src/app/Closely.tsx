/** One take closely: every microphone under the others on one time axis, down to the sample; how it plays, and before. */
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { useQuery } from '@tanstack/react-query';
import { ChevronLeft, ChevronRight, X } from 'lucide-react';
import { type PointerEvent, useEffect, useRef, useState, type WheelEvent } from 'react';
import { get, type KitState, type Mic, type RecordingShown, type Take } from '../api/calls';
import { Slider } from '../ui/Slider';
import { closeClosely, openClosely, useClosely } from './closely';
import { decibels, layerColour, signed } from './format';
import { articulationIn, useKit } from './kitStore';
import { useRecordings } from './recordings';
import { type Trim, TrimSliders } from './TrimSliders';

const FAINTEST = 0.001;
const NAME = 132;

/** The stretch of time on view, in ms from the start of the recordings. */
interface View {
  from: number;
  to: number;
}

export function Closely() {
  const { stroke: strokeId, take: takeId } = useClosely();
  const pieces = useKit((s) => s.pieces);
  const found = strokeId ? articulationIn(pieces, strokeId) : null;
  const take = found?.stroke.takes.find((t) => t.id === takeId);
  return (
    <Dialog open={found !== null && take !== undefined} onClose={closeClosely} className="relative z-40">
      <div className="fixed inset-0 grid place-items-center bg-black/40 p-5">
        <DialogPanel className="card flex h-full max-h-[760px] w-full max-w-[1200px] flex-col gap-2.5 overflow-hidden">
          {found && take && (
            <Lanes
              key={`${found.stroke.id} ${take.id}`}
              name={`${found.piece.name} · ${found.stroke.name}`}
              strokeId={found.stroke.id}
              order={found.stroke.takes.map((t) => t.id)}
              take={take}
            />
          )}
        </DialogPanel>
      </div>
    </Dialog>
  );
}

interface LanesProps {
  name: string;
  strokeId: string;
  order: string[];
  take: Take;
}

function Lanes({ name, strokeId, order, take }: LanesProps) {
  const kit = useKit((s) => s.kit) as KitState;
  const player = useKit((s) => s.player);
  const recordings = useRecordings(strokeId, take);
  const hearAsRecorded = async () => {
    try {
      await player?.auditionApart(
        strokeId,
        await get('/api/kits/{kit_id}/as-recorded', { kit_id: kit.id, articulation: strokeId, take: take.id }),
      );
    } catch (error) {
      useKit.getState().say((error as Error).message);
    }
  };
  const length = Math.max(50, ...recordings.map((r) => (r.frames * 1000) / r.rate_hz));
  const [view, setView] = useState<View | null>(null);
  const shown = view ?? { from: 0, to: length };
  const at = order.indexOf(take.id);
  const step = (by: number) => order[at + by] && openClosely(strokeId, order[at + by] as string);
  const zoom = (factor: number, centre = (shown.from + shown.to) / 2) => {
    const width = Math.max(0.25, Math.min(length, (shown.to - shown.from) * factor));
    const share = (centre - shown.from) / (shown.to - shown.from);
    const from = Math.max(0, Math.min(length - width, centre - share * width));
    setView({ from, to: from + width });
  };
  const cut = take.start_ms + take.start_trim_ms;
  return (
    <>
      <div className="flex flex-wrap items-center gap-2">
        <DialogTitle as="h1" className="truncate">
          {name} <span className="num text-[15px] text-soft">{take.label}</span>
        </DialogTitle>
        <button
          type="button"
          className="btn px-1.5"
          aria-label="The take before"
          disabled={at <= 0}
          onClick={() => step(-1)}
        >
          <ChevronLeft size={15} />
        </button>
        <button
          type="button"
          className="btn px-1.5"
          aria-label="The take after"
          disabled={at >= order.length - 1}
          onClick={() => step(1)}
        >
          <ChevronRight size={15} />
        </button>
        <span className="grow" />
        <button type="button" className="btn" onClick={() => void hearAsRecorded()}>
          Hear as recorded
        </button>
        <button type="button" className="btn btn-go" onClick={() => player?.audition(strokeId, take.id)}>
          Hear as it plays
        </button>
        <span className="mx-1 h-5 w-px bg-line" />
        <button type="button" className="btn" onClick={() => setView(null)}>
          Whole
        </button>
        <button
          type="button"
          className="btn"
          onClick={() => setView({ from: Math.max(0, cut - 3), to: Math.max(0, cut - 3) + 25 })}
        >
          Start
        </button>
        <button
          type="button"
          className="btn"
          title="Half a millisecond: single samples"
          onClick={() => setView({ from: Math.max(0, cut - 0.2), to: Math.max(0, cut - 0.2) + 0.8 })}
        >
          Samples
        </button>
        <button type="button" className="btn px-2" aria-label="Zoom in" onClick={() => zoom(0.5)}>
          +
        </button>
        <button type="button" className="btn px-2" aria-label="Zoom out" onClick={() => zoom(2)}>
          −
        </button>
        <button type="button" className="rounded-md p-1.5 hover:bg-sunk" aria-label="Close" onClick={closeClosely}>
          <X size={16} />
        </button>
      </div>
      <div className="grid min-h-0 grow grid-cols-[minmax(0,1fr)_250px] gap-3">
        <div className="flex min-h-0 flex-col">
          <Axis view={shown} cut={cut} />
          <div className="grid min-h-0 grow content-start gap-1 overflow-y-auto">
            {recordings.map((recording) => (
              <Lane
                key={recording.mic}
                recording={recording}
                mic={kit.head.mics.find((m) => m.id === recording.mic)}
                take={take}
                strokeId={strokeId}
                view={shown}
                length={length}
                height={Math.max(62, Math.min(150, Math.floor(600 / Math.max(1, recordings.length)) - 6))}
                onView={setView}
                onZoom={zoom}
              />
            ))}
          </div>
        </div>
        <Trims strokeId={strokeId} take={take} recordings={recordings} />
      </div>
    </>
  );
}

function Axis({ view, cut }: { view: View; cut: number }) {
  const width = view.to - view.from;
  const every = [0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000].find((s) => width / s <= 9) ?? 5000;
  const marks = [];
  for (let t = Math.ceil(view.from / every) * every; t <= view.to; t += every) marks.push(t);
  return (
    <div className="relative h-5 shrink-0" style={{ marginLeft: NAME }}>
      {marks.map((t) => (
        <span
          key={t}
          className="num absolute top-0 -translate-x-1/2 text-faint"
          style={{ left: `${((t - view.from) / width) * 100}%` }}
        >
          {every < 1 ? t.toFixed(1) : t.toFixed(0)}
        </span>
      ))}
      {cut >= view.from && cut <= view.to && (
        <b
          className="num absolute -bottom-0.5 -translate-x-1/2 text-[11.5px] text-plum"
          style={{ left: `${((cut - view.from) / width) * 100}%` }}
        >
          ▾
        </b>
      )}
    </div>
  );
}

interface LaneProps {
  recording: RecordingShown;
  mic: Mic | undefined;
  take: Take;
  strokeId: string;
  view: View;
  length: number;
  height: number;
  onView: (view: View) => void;
  onZoom: (factor: number, centre: number) => void;
}

function Lane({ recording, mic, take, strokeId, view, length, height, onView, onZoom }: LaneProps) {
  const player = useKit((s) => s.player);
  const edit = useKit((s) => s.edit);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [points, setPoints] = useState(600);
  const held = useRef<{ x: number; view: View } | null>(null);
  const rate = recording.rate_hz / 1000;
  const first = Math.max(0, Math.floor(view.from * rate));
  const frames = Math.max(2, Math.ceil((view.to - view.from) * rate) + 1);
  const { data } = useQuery({
    queryKey: ['peaks', recording.content, points, first, frames],
    queryFn: () => get('/api/peaks/{content}', { content: recording.content, points, first, frames }),
    staleTime: Number.POSITIVE_INFINITY,
    placeholderData: (last) => last,
  });
  useEffect(() => {
    const node = canvas.current;
    if (!node) return;
    const watch = new ResizeObserver(() => setPoints(Math.max(100, Math.min(1600, Math.round(node.clientWidth)))));
    watch.observe(node);
    return () => watch.disconnect();
  }, []);
  const cut = (recording.cut_ms ?? take.start_ms) + take.start_trim_ms;
  const end = take.end_ms === null ? null : cut + take.end_ms;
  const inverted = (mic?.inverted ?? false) !== take.inverted;
  useEffect(() => {
    const node = canvas.current;
    const time = { first: first / rate, each: frames / rate / Math.max(1, data?.low.length ?? 1) };
    if (node && data) draw(node, data, { view, cut, end, take, inverted, time, height });
  }, [data, view, cut, end, take, inverted, first, frames, rate, height]);
  const msAt = (event: PointerEvent | WheelEvent) => {
    const box = (event.currentTarget as HTMLElement).getBoundingClientRect();
    return view.from + ((event.clientX - box.left) / box.width) * (view.to - view.from);
  };
  return (
    <section className="flex items-stretch rounded-lg border border-line" aria-label={mic?.name}>
      <div className="grid shrink-0 content-center gap-0.5 px-2 py-1 text-tiny" style={{ width: NAME }}>
        <span className="flex items-center justify-between gap-1">
          <button
            type="button"
            className="truncate text-left text-small font-semibold hover:underline"
            title={`Hear ${mic?.name} alone`}
            onClick={() => player?.audition(strokeId, take.id, recording.mic)}
          >
            {mic?.name}
          </button>
          <button
            type="button"
            className={`tag ${mic?.inverted ? 'border-plum text-plum' : ''}`}
            aria-pressed={mic?.inverted}
            aria-label={`Polarity of ${mic?.name}`}
            title={`Turn ${mic?.name} round, for all it recorded`}
            onClick={() => mic && void edit({ kind: 'flip_polarity', mic: mic.id })}
          >
            Ø
          </button>
        </span>
        <span className="num text-[11.5px] text-faint" title="Where the strike starts here, after the take's start">
          {signed(recording.start_ms - (recording.cut_ms ?? take.start_ms))} ms
          {recording.polarity < 0 && <b className="text-amber"> against</b>}
        </span>
        {mic && (
          <Slider
            label={`Level of ${mic.name} across the kit`}
            value={mic.gain_db}
            min={-24}
            max={12}
            step={0.5}
            page={3}
            reset={0}
            tone="pan"
            show={(v) => signed(v)}
            onChange={(gain_db, gesture) => void edit({ kind: 'set_mic', mic: mic.id, gain_db }, gesture)}
          />
        )}
      </div>
      <canvas
        ref={canvas}
        height={height}
        className="min-w-0 grow cursor-grab touch-none"
        style={{ height }}
        data-testid="lane"
        onWheel={(event) => onZoom(event.deltaY > 0 ? 1.25 : 0.8, msAt(event))}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          held.current = { x: event.clientX, view };
        }}
        onPointerMove={(event) => {
          if (!held.current) return;
          const from = held.current.view;
          const moved = ((held.current.x - event.clientX) / event.currentTarget.clientWidth) * (from.to - from.from);
          const to = Math.max(0, Math.min(length - (from.to - from.from), from.from + moved));
          onView({ from: to, to: to + from.to - from.from });
        }}
        onPointerUp={() => {
          held.current = null;
        }}
      />
    </section>
  );
}

interface Marks {
  view: View;
  cut: number;
  end: number | null;
  take: Take;
  inverted: boolean;
  /** When the picture begins and how long each of its stretches is, in ms. */
  time: { first: number; each: number };
  height: number;
}

function draw(node: HTMLCanvasElement, data: { low: number[]; high: number[] }, marks: Marks) {
  const pen = node.getContext('2d');
  if (!pen) return;
  const LANE = marks.height;
  const ratio = window.devicePixelRatio || 1;
  const width = node.clientWidth;
  node.width = width * ratio;
  node.height = LANE * ratio;
  pen.scale(ratio, ratio);
  const style = getComputedStyle(node);
  const ink = (name: string) => style.getPropertyValue(name);
  const x = (ms: number) => ((ms - marks.view.from) / (marks.view.to - marks.view.from)) * width;
  const loudest = Math.max(FAINTEST, ...data.high.map(Math.abs), ...data.low.map(Math.abs));
  const y = (v: number) => LANE / 2 - ((marks.inverted ? -v : v) / loudest) * (LANE / 2 - 4);
  // What does not play is drawn pale.
  const start = x(marks.cut);
  const end = marks.end === null ? width + 1 : x(marks.end);
  pen.fillStyle = ink('--sunk');
  pen.fillRect(0, 0, Math.max(0, start), LANE);
  if (end < width) pen.fillRect(end, 0, width - end, LANE);
  pen.strokeStyle = ink('--line');
  pen.beginPath();
  pen.moveTo(0, LANE / 2);
  pen.lineTo(width, LANE / 2);
  pen.stroke();
  const count = data.low.length;
  const single = count < width * 0.75;
  pen.strokeStyle = ink('--v5');
  pen.fillStyle = ink('--v5');
  pen.beginPath();
  for (let i = 0; i < count; i += 1) {
    const at = x(marks.time.first + i * marks.time.each);
    if (single) {
      if (i) pen.lineTo(at, y(data.high[i] as number));
      else pen.moveTo(at, y(data.high[i] as number));
    } else {
      // One line through every stretch, so that a wave stays a wave where a stretch is hardly more than a sample.
      pen.lineTo(at, y(data.high[i] as number) - 0.4);
      pen.lineTo(at, y(data.low[i] as number) + 0.4);
    }
  }
  pen.stroke();
  if (single && count < width / 4) {
    for (let i = 0; i < count; i += 1) {
      pen.beginPath();
      pen.arc(x(marks.time.first + i * marks.time.each), y(data.high[i] as number), 2, 0, 7);
      pen.fill();
    }
  }
  pen.strokeStyle = ink('--leaf');
  pen.lineWidth = 1.5;
  pen.beginPath();
  if (marks.take.fade_in_ms) {
    pen.moveTo(start, LANE - 3);
    pen.lineTo(x(marks.cut + marks.take.fade_in_ms), 3);
  }
  if (marks.take.fade_out_ms && marks.end !== null) {
    pen.moveTo(x(marks.end - marks.take.fade_out_ms), 3);
    pen.lineTo(end, LANE - 3);
  }
  pen.stroke();
  pen.fillStyle = ink('--plum');
  pen.fillRect(start - 0.75, 0, 1.5, LANE);
  if (end < width) pen.fillRect(end - 0.75, 0, 1.5, LANE);
}

function Trims({ strokeId, take, recordings }: { strokeId: string; take: Take; recordings: RecordingShown[] }) {
  const edit = useKit((s) => s.edit);
  const mics = (useKit((s) => s.kit) as KitState).head.mics;
  const trim = (change: Trim) => void edit({ kind: 'trim_takes', articulation: strokeId, takes: [take.id], ...change });
  const longest = Math.max(100, ...recordings.map((r) => (r.frames * 1000) / r.rate_hz - take.start_ms));
  const clipped = recordings.reduce((sum, r) => sum + r.clipped_runs, 0);
  return (
    <aside className="grid content-start gap-2 overflow-y-auto" aria-label="How it plays">
      <h3>How it plays, the recording stays as it is</h3>
      <dl className="grid grid-cols-[auto_1fr] items-center gap-x-2.5 gap-y-1 text-small">
        <TrimSliders
          stroke={strokeId}
          takes={[take]}
          fields={['start_trim_ms', 'end_ms', 'fade_in_ms', 'fade_out_ms', 'gain_db', 'pan', 'tune_cents']}
          who={`take ${take.label}`}
          longest={longest}
        />
      </dl>
      <div className="flex flex-wrap gap-1.5">
        <button
          type="button"
          className="btn"
          aria-pressed={take.inverted}
          onClick={() => trim({ inverted: !take.inverted })}
        >
          Ø {take.inverted ? 'turned round' : 'polarity as is'}
        </button>
        <button type="button" className="btn" onClick={() => trim({ enabled: !take.enabled })}>
          {take.enabled ? 'Leave it out' : 'Let it play'}
        </button>
        <button
          type="button"
          className="btn"
          onClick={() =>
            trim({
              start_trim_ms: 0,
              end_ms: 0,
              fade_in_ms: 0,
              fade_out_ms: 0,
              gain_db: 0,
              pan: 0,
              tune_cents: 0,
              inverted: false,
            })
          }
        >
          As recorded
        </button>
      </div>
      <h3 className="mt-2">Measured</h3>
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
