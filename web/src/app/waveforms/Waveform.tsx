/** One microphone of the take: its waveform, and its polarity and level in the whole kit. */
import { useQuery } from '@tanstack/react-query';
import { type PointerEvent, useEffect, useRef, useState, type WheelEvent } from 'react';
import { get, type Mic, type RecordingShown, type Take } from '../../api/calls';
import { Slider } from '../../ui/Slider';
import { signed } from '../kit/format';
import { useKit } from '../kit/kitStore';
import { Heard } from './Heard';
import { draw, type View } from './wave';

export const NAME = 132;

interface ChannelProps {
  recording: RecordingShown;
  mic: Mic | undefined;
  take: Take;
  articulationId: string;
  view: View;
  length: number;
  height: number;
  onView: (view: View) => void;
  onZoom: (factor: number, centre: number) => void;
}

export function Waveform({ recording, mic, take, articulationId, view, length, height, onView, onZoom }: ChannelProps) {
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
    queryFn: async () => {
      const { content } = recording;
      return { ...(await get('/api/peaks/{content}', { content, points, first, frames })), content, first, frames };
    },
    staleTime: Number.POSITIVE_INFINITY,
    // The previous waveform stays, on its own axis, until the new one arrives; never that of another sound.
    placeholderData: (last) => (last?.content === recording.content ? last : undefined),
  });
  const drawn = data?.first === first && data.frames === frames;
  useEffect(() => {
    const node = canvas.current;
    if (!node) return;
    const watch = new ResizeObserver(() => setPoints(Math.max(100, Math.min(1600, Math.round(node.clientWidth)))));
    watch.observe(node);
    return () => watch.disconnect();
  }, []);
  const cut = (recording.cut_ms ?? take.start_ms) + take.start_trim_ms;
  const end = take.end_ms === null ? null : cut + take.end_ms;
  const inverted = ((mic?.inverted ?? false) !== take.inverted) !== (recording.flipped === 'both');
  useEffect(() => {
    const node = canvas.current;
    if (!node) return;
    if (!data) return node.getContext('2d')?.clearRect(0, 0, node.width, node.height);
    const time = { first: data.first / rate, each: data.frames / rate / Math.max(1, data.low.length) };
    draw(node, data, { view, cut, end, take, inverted, time, height });
  }, [data, view, cut, end, take, inverted, rate, height]);
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
            onClick={() => player?.audition(articulationId, take.id, recording.mic)}
          >
            {mic?.name}
          </button>
          <button
            type="button"
            className={`tag ${mic?.inverted ? 'border-plum text-plum' : ''}`}
            aria-pressed={mic?.inverted}
            title={`Flip polarity of ${mic?.name} in the whole kit`}
            onClick={() => mic && void edit({ kind: 'flip_polarity', mic: mic.id })}
          >
            <span className="sr-only">Polarity of {mic?.name}</span>
            <span aria-hidden="true">Ø</span>
          </button>
        </span>
        <Heard recording={recording} take={take} articulationId={articulationId} mic={mic?.name ?? recording.mic} />
        {mic && (
          <Slider
            label={`Level of ${mic.name} in the whole kit`}
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
        data-testid="channel"
        data-drawn={drawn || undefined}
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
