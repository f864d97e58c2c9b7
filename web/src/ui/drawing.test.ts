/** How figures become lines, colours and places on a track. */
import { describe, expect, it } from 'vitest';
import { decibels, gainToDecibels, hyphenable, panName, signed } from '../app/kit/format';
import { layerColour, strengthColour } from './colours';
import { law } from './Fader';
import { lineThrough } from './lineThrough';

describe('a line', () => {
  it('goes through its points and breaks where one is missing', () => {
    const drawn = lineThrough(
      [1, 2, null, 4, 5],
      (x) => x * 10,
      (y) => 100 - y,
    );
    expect(drawn).toBe('M0.0 99.0L10.0 98.0M30.0 96.0L40.0 95.0');
    expect(lineThrough([null, null], Number, Number)).toBe('');
  });
});

describe('strength', () => {
  it('has one ramp, soft to hard, and nothing beyond its ends', () => {
    expect([0, 0.5, 1].map(strengthColour)).toEqual(['var(--v1)', 'var(--v4)', 'var(--v6)']);
    expect([-3, 9].map(strengthColour)).toEqual(['var(--v1)', 'var(--v6)']);
    expect([layerColour(0, 4), layerColour(3, 4), layerColour(0, 1)]).toEqual(['var(--v1)', 'var(--v6)', 'var(--v6)']);
  });
});

describe('a fader', () => {
  it('has its law both ways, and the upper decibels take most of its track', () => {
    for (const db of [-60, -36.5, -12, 0, 6, 12]) expect(law.from(law.to(db))).toBeCloseTo(db, 9);
    expect([law.to(-60), law.to(12), law.to(-200)]).toEqual([0, 1, 0]);
    expect(law.to(0) - law.to(-12)).toBeGreaterThan(2 * (law.to(-36) - law.to(-48)));
  });
});

describe('figures', () => {
  it('have true minus signs, no minus nought, and a word for nothing', () => {
    expect([decibels(-3.04), decibels(-0.04), decibels(2), decibels(-119.5)]).toEqual(['−3.0', '0.0', '2.0', '−∞']);
    expect([signed(-0.04), signed(12.346, 2), signed(-12)]).toEqual(['0.0', '+12.35', '−12.0']);
    expect([panName(0.004), panName(-0.5), panName(1)]).toEqual(['C', 'L50', 'R100']);
    expect([gainToDecibels(1), gainToDecibels(0.1), gainToDecibels(0)]).toEqual([0, -20, -120]);
  });

  it('leave short names whole and let long ones be parted', () => {
    expect(hyphenable('Rack tom')).toBe('Rack tom');
    expect(hyphenable('Tambourine')).toContain('\u00ad');
    expect(hyphenable('Tambourine').replaceAll('\u00ad', '')).toBe('Tambourine');
  });
});
