/** A logarithmic track: equal steps are equal ratios, for frequencies and times. */
export const byRatio = (min: number, max: number) => ({
  to: (value: number) => Math.log(value / min) / Math.log(max / min),
  from: (place: number) => min * (max / min) ** place,
});
