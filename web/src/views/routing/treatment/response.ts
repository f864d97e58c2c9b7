/** The frequency response of an EQ, for drawing. */
import { coefficients, type EqBand, HIGHEST_SHARE } from '../../../player/treatments/eq';

/** The gain of some bands at a frequency, in dB. */
export function responseDb(bands: readonly EqBand[], hz: number, rate: number): number {
  const w = (2 * Math.PI * hz) / rate;
  const [c1, s1, c2, s2] = [Math.cos(w), Math.sin(w), Math.cos(2 * w), Math.sin(2 * w)];
  let db = 0;
  for (const band of bands) {
    const [b0, b1, b2, a1, a2] = coefficients({ ...band, hz: Math.min(band.hz, HIGHEST_SHARE * rate) }, rate);
    const over = (b0 + b1 * c1 + b2 * c2) ** 2 + (b1 * s1 + b2 * s2) ** 2;
    const under = (1 + a1 * c1 + a2 * c2) ** 2 + (a1 * s1 + a2 * s2) ** 2;
    db += 10 * Math.log10(Math.max(over / under, 1e-20));
  }
  return db;
}
