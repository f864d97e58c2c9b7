/** A setting on its way: it leaves softly, never overshoots, arrives within its time and then stands exactly. */
import { describe, expect, it } from 'vitest';
import { Glide, shareOf } from './glide';
import { EVERY, SMOOTH_S } from './stage';

const RATES = [44_100, 48_000, 96_000];

function way(rate: number, from: number, to: number): number[] {
  const glide = new Glide(from, shareOf(rate));
  glide.to(to);
  const steps: number[] = [];
  for (let at = 0; at < 4 * SMOOTH_S * rate; at += EVERY) {
    glide.move();
    steps.push(glide.now);
  }
  return steps;
}

describe('a setting that is turned', () => {
  it.each(RATES)('goes one way only and is there in its time, at %i Hz', (rate) => {
    for (const [from, to] of [
      [0, 12],
      [3, -18],
    ] as const) {
      const steps = way(rate, from, to);
      const rises = Math.sign(to - from);
      steps.reduce((before, now) => {
        expect((now - before) * rises).toBeGreaterThanOrEqual(0);
        return now;
      }, from);
      const inTime = steps[Math.round((SMOOTH_S * rate) / EVERY)] as number;
      expect(Math.abs(to - inTime)).toBeLessThan(0.01 * Math.abs(to - from));
      expect(steps.at(-1)).toBe(to);
    }
  });

  it('begins to move softly: its second step is longer than its first', () => {
    const [first, second, third] = way(48_000, 0, 1) as [number, number, number];
    expect(second - first).toBeGreaterThan(first);
    expect(third - second).toBeGreaterThan(second - first);
  });

  it('rests where it is, follows a new goal from there, and stands at once where nobody hears it', () => {
    const glide = new Glide(2, shareOf(48_000));
    expect(glide.moves).toBe(false);
    glide.to(4);
    for (let k = 0; k < 20; k += 1) glide.move();
    const between = glide.now;
    expect(between > 2 && between < 4).toBe(true);
    glide.to(0);
    glide.move();
    expect(Math.abs(glide.now - between)).toBeLessThan(0.2);
    glide.begin(-3);
    expect([glide.now, glide.moves]).toEqual([-3, false]);
  });
});
