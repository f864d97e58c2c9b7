/** The dots of takes in the dynamics chart, as they are and as an edit would leave them; and the last strike. */

import { memo } from 'react';
import type { Articulation, Layer, Take } from '../../api/calls';
import { minus } from '../../app/kit/format';
import { useKit } from '../../app/kit/kitStore';
import { useHitAt, useHitOf } from '../../app/playing/strikes';
import { layerColour } from '../../ui/colours';
import { pressTake } from './selection';

export const TOP = 8;

interface DotsProps {
  articulation: Articulation;
  x: (velocity: number) => number;
  y: (level: number) => number;
  bottom: number;
  selected: string[];
}

/** Where the last strike of an articulation fell. */
export function Hit({ articulation, x, tall }: { articulation: string; x: DotsProps['x']; tall: number }) {
  const hit = useHitOf(articulation);
  if (!hit) return null;
  return (
    <line
      x1={x(hit.velocity)}
      x2={x(hit.velocity)}
      y1={TOP}
      y2={TOP + tall + 9}
      stroke="var(--plum)"
      strokeWidth={1.3}
      data-testid="dynamics-hit"
    />
  );
}

const placeIn = (layer: Layer, place: number) =>
  layer.low + ((layer.high - layer.low) * (place + 0.5)) / layer.takes.length;

export function Dots({ articulation, x, y, bottom, selected }: DotsProps) {
  const byId = new Map(articulation.takes.map((take) => [take.id, take]));
  return articulation.layers.map((layer, number) =>
    layer.takes.map((id, place) => {
      const take = byId.get(id);
      if (!take) return null;
      const far = layer.stands_out.includes(id);
      return (
        <Dot
          key={id}
          articulation={articulation}
          take={take}
          cx={x(placeIn(layer, place))}
          cy={y(Math.max(bottom, take.level_db + layer.gain_db))}
          colour={far ? 'var(--amber-line)' : layerColour(Math.max(number, 1), articulation.layers.length)}
          chosen={selected.includes(id)}
        />
      );
    }),
  );
}

interface DotProps {
  articulation: Articulation;
  take: Take;
  cx: number;
  cy: number;
  colour: string;
  chosen: boolean;
}

const Dot = memo(function Dot({ articulation, take, cx, cy, colour, chosen }: DotProps) {
  const player = useKit((s) => s.player);
  const sounded = useHitAt(articulation.id, take.id) !== null;
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: the grid below works by keyboard
    <circle
      cx={cx}
      cy={cy}
      r={sounded || chosen ? 6 : 4.3}
      fill={colour}
      fillOpacity={take.enabled ? 1 : 0.2}
      stroke={sounded ? 'var(--plum)' : 'var(--ink)'}
      strokeWidth={sounded || chosen ? 2.6 : 1}
      className="cursor-pointer"
      onClick={(event) => {
        pressTake(articulation, take.id, { join: event.ctrlKey || event.metaKey, range: event.shiftKey });
        player?.audition(articulation.id, take.id);
      }}
    >
      <title>{`Take ${take.label}: ${minus(take.level_db.toFixed(1))} dB`}</title>
    </circle>
  );
});

/** The positions of takes, layers and boundaries after an edit. */
type GhostProps = Omit<DotsProps, 'selected'> & { tall: number };

export function Ghost({ articulation, x, y, bottom, tall }: GhostProps) {
  const byId = new Map(articulation.takes.map((take) => [take.id, take]));
  return (
    <g data-testid="ghost" stroke="var(--leaf)" fill="none">
      {articulation.layers.map((layer, number) => (
        <g key={number}>
          <line
            x1={x(layer.low - 0.5)}
            x2={x(layer.high + 0.5)}
            y1={y(layer.level_db)}
            y2={y(layer.level_db)}
            strokeWidth={2}
          />
          {number > 0 && (
            <line
              x1={x(layer.low - 0.5)}
              x2={x(layer.low - 0.5)}
              y1={TOP}
              y2={TOP + tall}
              strokeWidth={1.2}
              strokeDasharray="4 3"
            />
          )}
          {layer.takes.map((id, place) => {
            const take = byId.get(id);
            return (
              take?.enabled && (
                <circle
                  key={id}
                  cx={x(placeIn(layer, place))}
                  cy={y(Math.max(bottom, take.level_db + layer.gain_db))}
                  r={4.3}
                  strokeWidth={2}
                />
              )
            );
          })}
        </g>
      ))}
    </g>
  );
}
