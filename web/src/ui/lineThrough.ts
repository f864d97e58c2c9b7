/** An SVG path through points in order, interrupted where one is missing. */
export function lineThrough(
  points: readonly (number | null)[],
  x: (place: number) => number,
  y: (value: number) => number,
): string {
  let d = '';
  points.forEach((value, place) => {
    if (value === null) return;
    const joins = place > 0 && points[place - 1] !== null;
    d += `${joins ? 'L' : 'M'}${x(place).toFixed(1)} ${y(value).toFixed(1)}`;
  });
  return d;
}
