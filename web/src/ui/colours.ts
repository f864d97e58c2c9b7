/** Colours with a meaning: velocity from soft to hard. */
const RAMP = ['--v1', '--v2', '--v3', '--v4', '--v5', '--v6'];

/** The colour of a velocity, from 0 to 1. */
export const strengthColour = (strength: number) =>
  `var(${RAMP[Math.max(0, Math.min(5, Math.round(strength * 5)))] as string})`;

/** The colour of the k-th of n layers, softest first. */
export const layerColour = (k: number, n: number) => strengthColour(n > 1 ? k / (n - 1) : 1);
