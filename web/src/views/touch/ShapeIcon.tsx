import type { Curve } from '../../api/calls';

/** A curve as an icon: its nodes joined, with bends. */
export function ShapeIcon({ curve, width = 42, height = 24 }: { curve: Curve; width?: number; height?: number }) {
  const x = (v: number) => 3 + (v / 127) * (width - 6);
  const y = (v: number) => height - 3 - (v / 127) * (height - 6);
  let d = '';
  curve.nodes.forEach((node, k) => {
    const before = curve.nodes[k - 1];
    if (!before) d += `M${x(node.x)} ${y(node.y)}`;
    else if (!before.bend) d += `L${x(node.x)} ${y(node.y)}`;
    else if (before.bend > 0) d += `Q${x(before.x)} ${y(node.y)} ${x(node.x)} ${y(node.y)}`;
    else d += `Q${x(node.x)} ${y(before.y)} ${x(node.x)} ${y(node.y)}`;
  });
  return (
    <svg width={width} height={height} aria-hidden="true">
      <path d={d} fill="none" stroke="var(--v5)" strokeWidth={1.8} />
    </svg>
  );
}
