/** Deckhand 5, the stand-in electronic kit: pads to press and a pedal to move. */
import type { PointerEvent } from 'react';
import type { ElectronicKit } from '../api/calls';
import { Slider } from '../ui/Slider';
import { DECKHAND, useInput } from './input';
import { useKit } from './kitStore';

const WIDTH = 326;
const HEIGHT = 214;

export function Deckhand({ kit }: { kit: ElectronicKit }) {
  const { keyVelocity, openness, setKeyVelocity, setPedal } = useInput();
  const press = (event: PointerEvent<SVGCircleElement>, pad: ElectronicKit['pads'][number], edge: boolean) => {
    const box = event.currentTarget.getBoundingClientRect();
    const distance =
      Math.hypot(event.clientX - box.left - box.width / 2, event.clientY - box.top - box.height / 2) / (box.width / 2);
    const velocity = edge ? 110 : Math.max(1, Math.min(127, Math.round(127 - distance * 110)));
    useKit.getState().player?.strike(DECKHAND, edge && pad.edge_note ? pad.edge_note : pad.note, velocity);
  };
  return (
    <div className="grid gap-2">
      <div className="flex items-baseline justify-between">
        <h2>{kit.name}</h2>
        <span className="text-tiny text-faint">a simulated kit; the nearer the centre, the harder</span>
      </div>
      <svg width={WIDTH} height={HEIGHT} viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className="touch-none select-none">
        {kit.pads.map((pad) => {
          const r = (pad.size * WIDTH) / 2;
          return (
            <g key={pad.name} transform={`translate(${pad.x * WIDTH} ${pad.y * HEIGHT})`}>
              {pad.edge_note && (
                <circle
                  r={r + 7}
                  fill="var(--sunk)"
                  stroke="var(--ink)"
                  className="cursor-pointer"
                  data-pad={`${pad.name} edge`}
                  onPointerDown={(event) => press(event, pad, true)}
                />
              )}
              <circle
                r={r}
                fill="var(--v2)"
                stroke="var(--ink)"
                strokeWidth={1.2}
                className="cursor-pointer"
                data-pad={pad.name}
                onPointerDown={(event) => press(event, pad, false)}
              />
              <circle r={r * 0.55} fill="var(--v4)" className="pointer-events-none" />
              <text
                textAnchor="middle"
                y={4}
                className="pointer-events-none"
                fontSize={12}
                fontWeight={700}
                fill="#fff"
              >
                {pad.key}
              </text>
              <text
                textAnchor="middle"
                y={r + (pad.edge_note ? 20 : 14)}
                className="pointer-events-none"
                fontSize={11.5}
                fill="var(--soft)"
              >
                {pad.name} {pad.note}
              </text>
            </g>
          );
        })}
      </svg>
      <div className="grid grid-cols-[92px_1fr] items-center gap-x-3 gap-y-1 text-small">
        <span>Hats’ pedal</span>
        <Slider
          label="Hats’ pedal openness"
          value={openness}
          min={0}
          max={127}
          step={1}
          reset={127}
          show={(v) => (v === 0 ? 'shut' : v === 127 ? 'open' : String(v))}
          onChange={setPedal}
        />
        <span>Keys strike at</span>
        <Slider
          label="Velocity of the computer keys"
          value={keyVelocity}
          min={1}
          max={127}
          step={1}
          reset={96}
          show={String}
          onChange={setKeyVelocity}
        />
      </div>
      <p className="text-tiny text-faint">
        Keys A S D F G strike; Shift+S is the snare’s edge; C opens and shuts the hats.
      </p>
    </div>
  );
}
