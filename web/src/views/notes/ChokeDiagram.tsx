/** A diagram of a piece's chokes: an arc from each articulation to those it stops. */
import { useState } from 'react';
import type { Articulation, Piece } from '../../api/calls';

const WIDTH = 232;
const ROW = 21;
/** Half the width reserved for names in the middle. */
const NAMES = 38;

export function ChokeDiagram({ piece }: { piece: Piece }) {
  const [over, setOver] = useState<string | null>(null);
  const articulations = piece.articulations;
  const place = new Map(articulations.map((articulation, k) => [articulation.id, k]));
  const stops = articulations.flatMap((from) =>
    from.chokes.flatMap(({ articulation }) => {
      const to = place.get(articulation);
      return to === undefined ? [] : [{ from, to }];
    }),
  );
  if (!stops.length) return null;
  const y = (k: number) => ROW * (k + 0.5);
  const furthest = Math.max(1, ...stops.map(({ from, to }) => Math.abs((place.get(from.id) as number) - to)));
  const lit = (from: Articulation, to: number) => over === null || over === from.id || over === articulations[to]?.id;
  return (
    <svg
      width={WIDTH}
      height={ROW * articulations.length}
      className="mx-auto block overflow-visible"
      role="img"
      aria-label={piece.choke_sentence}
      data-testid="stops-diagram"
    >
      {stops.map(({ from, to }) => {
        const start = place.get(from.id) as number;
        // Arcs down the list on the right, up the list on the left; longer ones bend further.
        const side = to >= start ? 1 : -1;
        const x = WIDTH / 2 + side * NAMES;
        const swing = x + side * (14 + (58 * Math.abs(to - start)) / furthest);
        const [a, b] = to === start ? [y(start) - 6, y(to) + 6] : [y(start) + 3 * side, y(to) - 3 * side];
        return (
          <g
            key={`${from.id} ${to}`}
            stroke={lit(from, to) ? (over === null ? 'var(--ink)' : 'var(--plum)') : 'var(--line)'}
            fill="none"
            strokeWidth={1.3}
            data-stops={`${from.name} → ${articulations[to]?.name}`}
          >
            <path d={`M${x} ${a}C${swing} ${a} ${swing} ${b} ${x + side * 2} ${b}`} />
            <path d={`M${x + side * 7} ${b - 3.5}L${x + side * 1.5} ${b}L${x + side * 7} ${b + 3.5}`} />
          </g>
        );
      })}
      {articulations.map((articulation, k) => (
        <g
          key={articulation.id}
          onPointerEnter={() => setOver(articulation.id)}
          onPointerLeave={() => setOver(null)}
          className="cursor-default"
        >
          <rect x={WIDTH / 2 - NAMES} y={ROW * k} width={NAMES * 2} height={ROW} fill="transparent" />
          <text
            x={WIDTH / 2}
            y={y(k) + 4}
            textAnchor="middle"
            fontSize={12}
            fontWeight={over === articulation.id ? 700 : 500}
            fill={over === articulation.id ? 'var(--plum)' : 'var(--ink)'}
          >
            {articulation.name.length > 12 ? `${articulation.name.slice(0, 11)}…` : articulation.name}
            <title>{articulation.name}</title>
          </text>
        </g>
      ))}
    </svg>
  );
}
