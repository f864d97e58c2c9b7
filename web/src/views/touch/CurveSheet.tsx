/** The background of the curve: layers, ignored velocities, and counts of strikes. */
import type { Articulation } from '../../api/calls';
import { layerColour, strengthColour } from '../../ui/colours';

export interface ChartBox {
  x: number;
  y: number;
  width: number;
  height: number;
}
/** From velocities to pixels. */
export interface ChartScale {
  box: ChartBox;
  x: (v: number) => number;
  y: (v: number) => number;
}

export const scaleOf = (box: ChartBox): ChartScale => ({
  box,
  x: (v) => box.x + (v / 127) * box.width,
  y: (v) => box.y + box.height - (v / 127) * box.height,
});

export function TablePath(props: { table: number[]; box: ChartBox; colour: string; width: number }) {
  const { table, box } = props;
  const d = table
    .map(
      (y, x) =>
        `${x ? 'L' : 'M'}${(box.x + (x / 127) * box.width).toFixed(1)} ${(box.y + box.height - (y / 127) * box.height).toFixed(1)}`,
    )
    .join('');
  return <path d={d} fill="none" stroke={props.colour} strokeWidth={props.width} strokeLinejoin="round" />;
}

export function CurveSheet({ scale, articulation }: { scale: ChartScale; articulation: Articulation | null }) {
  const { box, x, y } = scale;
  return (
    <>
      <rect x={box.x} y={box.y} width={box.width} height={box.height} fill="transparent" stroke="var(--line)" />
      {articulation?.layers.map((layer, number) => (
        <g key={number}>
          <rect
            x={box.x}
            y={y(layer.high)}
            width={box.width}
            height={Math.max(0, y(layer.low) - y(layer.high))}
            fill={layerColour(number, articulation.layers.length)}
            opacity={0.28}
          />
          <rect
            x={box.x + box.width + 4}
            y={y(layer.high)}
            width={7}
            height={Math.max(2, y(layer.low) - y(layer.high) - 1)}
            rx={2}
            fill={layerColour(number, articulation.layers.length)}
          />
          <text
            x={box.x + box.width + 15}
            y={(y(layer.low) + y(layer.high)) / 2 + 4}
            className="num"
            fontSize={11.5}
            fill="var(--faint)"
          >
            {number + 1}
          </text>
        </g>
      ))}
      {[0, 32, 64, 96, 127].map((v) => (
        <g key={v}>
          <line x1={x(v)} x2={x(v)} y1={box.y} y2={box.y + box.height} stroke="var(--line)" />
          <line x1={box.x} x2={box.x + box.width} y1={y(v)} y2={y(v)} stroke="var(--line)" />
          <text
            x={x(v)}
            y={box.y + box.height + 16}
            textAnchor="middle"
            className="num"
            fontSize={11.5}
            fill="var(--faint)"
          >
            {v}
          </text>
          <text x={box.x - 6} y={y(v) + 4} textAnchor="end" className="num" fontSize={11.5} fill="var(--faint)">
            {v}
          </text>
        </g>
      ))}
    </>
  );
}

/** Ignored velocities, and how often each velocity came in. */
export function CameIn({ scale, table, spread }: { scale: ChartScale; table: number[]; spread: number[] | null }) {
  const { box, x } = scale;
  const ignored = table.findIndex((v) => v > 0);
  const most = Math.max(1, ...(spread ?? [1]));
  return (
    <>
      {ignored > 1 && (
        <g>
          <rect
            x={box.x}
            y={box.y}
            width={x(ignored - 1) - box.x}
            height={box.height}
            fill="var(--ink)"
            opacity={0.08}
          />
          <text x={box.x + 6} y={box.y + 16} fontSize={11.5} fill="var(--soft)">
            ignored
          </text>
        </g>
      )}
      {spread?.map(
        (count, v) =>
          count > 0 && (
            <rect
              key={v}
              x={x(v) - 1.5}
              y={box.y + box.height + 52 - (count / most) * 30}
              width={3}
              height={(count / most) * 30}
              rx={1}
              fill={(table[v] ?? 0) === 0 ? 'var(--edge)' : strengthColour(v / 127)}
            />
          ),
      )}
      {spread && (
        <text x={box.x + box.width} y={box.y + box.height + 65} textAnchor="end" fontSize={11.5} fill="var(--faint)">
          strikes as they came in
        </text>
      )}
    </>
  );
}
