/** A node's position and bend, to drag, nudge or type. */
import type { Curve } from '../../api/calls';
import { Slider } from '../../ui/Slider';

export function NodeFields(props: { curve: Curve; node: number; onChange: (curve: Curve, gesture?: string) => void }) {
  const { curve, node, onChange } = props;
  const chosen = curve.nodes[node];
  if (!chosen) return null;
  const before = curve.nodes[node - 1];
  const after = curve.nodes[node + 1];
  const change = (part: Partial<typeof chosen>, gesture: string) =>
    onChange({ nodes: curve.nodes.map((n, k) => (k === node ? { ...n, ...part } : n)) }, gesture);
  return (
    <div className="grid grid-cols-[76px_1fr] items-center gap-y-1.5 text-small">
      <span>Velocity in</span>
      <Slider
        label="Velocity in of the node"
        value={chosen.x}
        min={before ? before.x + 1 : 0}
        max={after && before ? after.x - 1 : chosen.x}
        step={1}
        reset={chosen.x}
        show={String}
        onChange={(x, gesture) => before && after && change({ x }, gesture)}
      />
      <span>Velocity out</span>
      <Slider
        label="Velocity out of the node"
        value={chosen.y}
        min={0}
        max={127}
        step={1}
        reset={chosen.x}
        show={String}
        onChange={(y, gesture) => change({ y }, gesture)}
      />
      {after && (
        <>
          <span>Bend after</span>
          <Slider
            label="Bend after the node"
            value={chosen.bend ?? 0}
            min={-1}
            max={1}
            step={0.01}
            page={0.1}
            reset={0}
            tone="pan"
            show={(v) => v.toFixed(2).replace('-', '−')}
            onChange={(bend, gesture) => change({ bend }, gesture)}
          />
        </>
      )}
    </div>
  );
}
