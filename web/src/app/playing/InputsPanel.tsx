/** Inputs: a simulated kit to press, devices over Web MIDI, and the delay until they sound. */
import { GripHorizontal, X } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { useFloating } from '../../ui/floating';
import { Pick } from '../../ui/Pick';
import { useKit } from '../kit/kitStore';
import { timing } from './door';
import { useInputs } from './inputs';
import { MIDI_SAYS, useMidi } from './midi';
import { Pads } from './Pads';

/** Keeps the header and the strike bar visible. */
const AROUND = { above: 52, below: 64 };

export function InputsPanel() {
  const kits = useInputs((s) => s.kits);
  const simulatedKit = useInputs((s) => s.simulatedKit);
  const chosen = useInputs((s) => s.chosen);
  const choose = useInputs((s) => s.choose);
  const [devices, setDevices] = useState(!kits.some((kit) => kit.id === chosen));
  const panel = useRef<HTMLElement>(null);
  const { style, handle } = useFloating(panel, AROUND);
  return (
    <section
      ref={panel}
      style={style}
      id="inputs"
      aria-label="Input devices"
      className="fixed bottom-[76px] left-3 z-40 grid max-h-[calc(100vh-140px)] w-[360px] grid-cols-[minmax(0,1fr)] gap-3 overflow-auto rounded-2xl border border-line bg-card p-4 pt-7 text-ink shadow-xl"
    >
      <button
        type="button"
        aria-label="Move this panel with the arrow keys"
        title="Drag or use the arrow keys to move this panel"
        className="absolute top-0.5 left-1/2 flex h-6 w-24 -translate-x-1/2 cursor-grab touch-none items-center justify-center rounded-md text-faint hover:bg-sunk hover:text-ink active:cursor-grabbing"
        {...handle}
      >
        <GripHorizontal size={16} aria-hidden="true" />
      </button>
      <button
        type="button"
        aria-label="Close input devices"
        className="absolute top-1.5 right-2 grid size-6 place-items-center rounded-md text-faint hover:bg-sunk hover:text-ink"
        onClick={() => useInputs.setState({ open: false })}
      >
        <X size={15} />
      </button>
      <div className="flex flex-wrap gap-1.5 pr-6" role="group" aria-label="Inputs">
        {kits.map((kit) => (
          <button
            key={kit.id}
            type="button"
            className="chip"
            title={`${kit.name}: a simulated pad kit`}
            aria-pressed={!devices && simulatedKit?.id === kit.id}
            onClick={() => {
              setDevices(false);
              choose(kit.id);
            }}
          >
            {kit.name}
          </button>
        ))}
        <button type="button" className="chip" aria-pressed={devices} onClick={() => setDevices(true)}>
          MIDI devices
        </button>
      </div>
      {devices ? <Devices /> : simulatedKit && <Pads kit={simulatedKit} />}
      <Timing />
    </section>
  );
}

const CHANNELS = [
  { value: 0, name: 'all channels' },
  ...Array.from({ length: 16 }, (_, k) => ({ value: k + 1, name: `channel ${k + 1}` })),
];

function Devices() {
  const { state, devices, connect, toggle, setChannel } = useMidi();
  const chosen = useInputs((s) => s.chosen);
  const choose = useInputs((s) => s.choose);
  return (
    <section className="grid grid-cols-[minmax(0,1fr)] gap-2" aria-label="MIDI devices">
      {state !== 'on' && (
        <button type="button" className="btn btn-go justify-self-start" onClick={() => void connect()}>
          {state === 'refused' ? 'Try again' : 'Connect MIDI devices'}
        </button>
      )}
      {devices.map((device) => (
        <div key={device.id} className="flex items-center gap-2.5">
          <label className={`flex min-w-0 grow items-center gap-2 ${device.connected ? '' : 'text-faint'}`}>
            <input type="checkbox" checked={device.on} onChange={() => toggle(device.id)} />
            <span className="truncate" title={device.name}>
              {device.name}
              {!device.connected && ' (unplugged)'}
            </span>
          </label>
          <Pick
            label={`Channel of ${device.name}`}
            value={device.channel}
            options={CHANNELS}
            onChange={(channel) => setChannel(device.id, channel)}
            className="shrink-0"
          />
          <button
            type="button"
            className="chip"
            aria-pressed={chosen === device.id}
            aria-label={`Show ${device.name}`}
            onClick={() => choose(device.id)}
          >
            {chosen === device.id ? 'shown' : 'show'}
          </button>
        </div>
      ))}
      {state === 'on' && !devices.length && <p className="text-soft">No MIDI device is plugged in.</p>}
      <p className="text-small text-soft" role={state === 'refused' || state === 'missing' ? 'alert' : undefined}>
        {MIDI_SAYS[state]}
      </p>
    </section>
  );
}

/** The time from a message until its sound is scheduled, shown on request. */
function Timing() {
  const player = useKit((s) => s.player);
  const count = useInputs((s) => s.count);
  const [shown, setShown] = useState(false);
  const [measured, setMeasured] = useState(timing());
  // biome-ignore lint/correctness/useExhaustiveDependencies: measured again with every message
  useEffect(() => {
    if (shown) setMeasured(timing());
  }, [shown, count]);
  return (
    <div className="border-t border-line pt-2 text-small">
      <button type="button" className="link" aria-expanded={shown} onClick={() => setShown(!shown)}>
        Latency
      </button>
      {shown && (
        <p className="mt-1 text-soft" data-testid="timing">
          {measured ? (
            <>
              From message to scheduled sound: <span className="num">{measured.middle.toFixed(2)} ms</span>, slowest of{' '}
              {measured.count} <span className="num">{measured.slowest.toFixed(2)} ms</span>.
              {player && (
                <>
                  {' '}
                  The sound device adds about{' '}
                  <span className="num">
                    {((player.context.baseLatency + (player.context.outputLatency || 0)) * 1000).toFixed(0)} ms
                  </span>
                  .
                </>
              )}
            </>
          ) : (
            'Strike something to measure it.'
          )}
        </p>
      )}
    </div>
  );
}
