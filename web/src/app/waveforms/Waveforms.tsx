/** The waveforms of a take: all microphones on one time axis, down to single samples, with trims and comparison. */
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { ChevronLeft, ChevronRight, X } from 'lucide-react';
import { useState } from 'react';
import { get, type KitState, type Take } from '../../api/calls';
import { useRecordings } from '../importing/recordings';
import { articulationIn, useKit } from '../kit/kitStore';
import { Axis } from './Axis';
import { closeWaveforms, openWaveforms, useWaveforms } from './opened';
import { Trims } from './Trims';
import { Waveform } from './Waveform';
import type { View } from './wave';

export function Waveforms() {
  const { articulation: articulationId, take: takeId } = useWaveforms();
  const pieces = useKit((s) => s.pieces);
  const found = articulationId ? articulationIn(pieces, articulationId) : null;
  const take = found?.articulation.takes.find((t) => t.id === takeId);
  return (
    <Dialog open={found !== null && take !== undefined} onClose={closeWaveforms} className="relative z-40">
      <div className="fixed inset-0 grid place-items-center bg-black/40 p-5">
        <DialogPanel className="card flex h-full max-h-[760px] w-full max-w-[1200px] flex-col gap-2.5 overflow-hidden">
          {found && take && (
            <Channels
              key={`${found.articulation.id} ${take.id}`}
              name={`${found.piece.name} · ${found.articulation.name}`}
              articulationId={found.articulation.id}
              order={found.articulation.takes.map((t) => t.id)}
              take={take}
            />
          )}
        </DialogPanel>
      </div>
    </Dialog>
  );
}

interface ChannelsProps {
  name: string;
  articulationId: string;
  order: string[];
  take: Take;
}

function Channels({ name, articulationId, order, take }: ChannelsProps) {
  const kit = useKit((s) => s.kit) as KitState;
  const player = useKit((s) => s.player);
  const recordings = useRecordings(articulationId, take);
  const hearAsRecorded = async () => {
    try {
      await player?.auditionApart(
        articulationId,
        await get('/api/kits/{kit_id}/as-recorded', { kit_id: kit.id, articulation: articulationId, take: take.id }),
      );
    } catch (error) {
      useKit.getState().say((error as Error).message);
    }
  };
  const length = Math.max(50, ...recordings.map((r) => (r.frames * 1000) / r.rate_hz));
  const [view, setView] = useState<View | null>(null);
  const shown = view ?? { from: 0, to: length };
  const at = order.indexOf(take.id);
  const step = (by: number) => order[at + by] && openWaveforms(articulationId, order[at + by] as string);
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
          aria-label="Previous take"
          disabled={at <= 0}
          onClick={() => step(-1)}
        >
          <ChevronLeft size={15} />
        </button>
        <button
          type="button"
          className="btn px-1.5"
          aria-label="Next take"
          disabled={at >= order.length - 1}
          onClick={() => step(1)}
        >
          <ChevronRight size={15} />
        </button>
        <span className="grow" />
        <button type="button" className="btn" onClick={() => void hearAsRecorded()}>
          Play as recorded
        </button>
        <button type="button" className="btn btn-go" onClick={() => player?.audition(articulationId, take.id)}>
          Play with settings
        </button>
        <span className="mx-1 h-5 w-px bg-line" />
        <button type="button" className="btn" onClick={() => setView(null)}>
          Whole take
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
          title="Zoom to single samples"
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
        <button type="button" className="rounded-md p-1.5 hover:bg-sunk" aria-label="Close" onClick={closeWaveforms}>
          <X size={16} />
        </button>
      </div>
      <div className="grid min-h-0 grow grid-cols-[minmax(0,1fr)_250px] gap-3">
        <div className="flex min-h-0 flex-col">
          <Axis view={shown} cut={cut} />
          <div className="grid min-h-0 grow content-start gap-1 overflow-y-auto">
            {recordings.map((recording) => (
              <Waveform
                key={recording.mic}
                recording={recording}
                mic={kit.head.mics.find((m) => m.id === recording.mic)}
                take={take}
                articulationId={articulationId}
                view={shown}
                length={length}
                height={Math.max(62, Math.min(150, Math.floor(600 / Math.max(1, recordings.length)) - 6))}
                onView={setView}
                onZoom={zoom}
              />
            ))}
          </div>
        </div>
        <Trims articulationId={articulationId} take={take} recordings={recordings} />
      </div>
    </>
  );
}
