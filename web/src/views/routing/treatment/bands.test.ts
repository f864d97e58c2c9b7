/** Bands as hands move them: never beyond what the core allows, each key and drag by what it means for its kind. */
import { beforeAll, describe, expect, it } from 'vitest';
import type { Rules } from '../../../api/calls';
import { FIRST } from '../../../app/kit/desk.fixture';
import { takeRules } from '../../../app/kit/rules';
import { added, isCut, KINDS, kindName, levelOf, moved, narrowed, nudged } from './bands';
import { responseDb } from './response';
import type { EqBand } from './treating';

const PEAK: EqBand = FIRST.band;
const CUT: EqBand = { ...PEAK, kind: 'low_cut', hz: 90 };
const SHELF: EqBand = { ...PEAK, kind: 'high_shelf', hz: 8000, gain_db: 2 };

beforeAll(() =>
  takeRules({
    limits: {
      'eq_band.hz': { least: 20, most: 20_000 },
      'eq_band.gain_db': { least: -18, most: 18 },
      'eq_band.q': { least: 0.1, most: 18 },
      'eq_band.resonance_db': { least: -12, most: 18 },
    },
    treatments: FIRST,
    most_bands: 3,
  } as unknown as Rules),
);

describe('a band', () => {
  it('is drawn where it takes its own frequency: what it lifts, or how much a cut resonates', () => {
    expect([levelOf(SHELF), levelOf(CUT)]).toEqual([2, -3.01]);
    for (const band of [PEAK, CUT, { ...CUT, resonance_db: 9 }, { ...PEAK, gain_db: -7 }]) {
      expect(responseDb([band], band.hz, 48_000)).toBeCloseTo(levelOf(band), 2);
    }
    expect(KINDS.map((kind) => isCut({ ...PEAK, kind: kind.value }))).toEqual([true, false, false, false, true]);
    expect(kindName('high_shelf')).toBe('high shelf');
  });

  it('goes where it is dragged, and no farther than it may', () => {
    expect(moved(PEAK, { hz: 441.23, db: -3.14 })).toEqual({ ...PEAK, hz: 441.2, gain_db: -3.1 });
    expect(moved(PEAK, { hz: 5, db: 40 })).toEqual({ ...PEAK, hz: 20, gain_db: 18 });
    expect(moved(CUT, { hz: 120, db: 6 })).toEqual({ ...CUT, hz: 120, resonance_db: 6 });
    expect(moved(CUT, { hz: 120, db: -30 }).resonance_db).toBe(-12);
  });

  it('gets narrower by what that is for its kind', () => {
    expect(narrowed(PEAK, 1).q).toBe(1.15);
    expect(narrowed(narrowed(PEAK, 3), -3).q).toBeCloseTo(1, 2);
    expect([narrowed({ ...PEAK, q: 17 }, 4).q, narrowed({ ...PEAK, q: 0.11 }, -4).q]).toEqual([18, 0.1]);
    expect(narrowed(CUT, 2).resonance_db).toBe(-1.01);
    expect(narrowed(SHELF, 5)).toBe(SHELF);
  });

  it('is nudged by a semitone, half a decibel, a step of narrowness, and by no other key', () => {
    expect(nudged(PEAK, 'ArrowRight')?.hz).toBe(1059);
    expect(nudged({ ...PEAK, hz: 20 }, 'ArrowLeft')?.hz).toBe(20);
    expect(nudged(SHELF, 'ArrowUp')?.gain_db).toBe(2.5);
    expect(nudged({ ...SHELF, gain_db: -18 }, 'ArrowDown')?.gain_db).toBe(-18);
    expect(nudged(CUT, 'ArrowUp')).toMatchObject({ resonance_db: -2.51, gain_db: 0 });
    expect(nudged(PEAK, 'PageDown')?.q).toBeLessThan(1);
    expect([nudged(PEAK, 'Enter'), nudged(PEAK, 'Delete')]).toEqual([null, null]);
    // Twelve semitones up and down again is where it was, to the figures shown.
    let there = PEAK;
    for (let k = 0; k < 12; k += 1) there = nudged(there, 'ArrowRight') as EqBand;
    expect(there.hz / 2000).toBeCloseTo(1, 2);
  });

  it('is added where it is pressed, else apart from the others, and not beyond the most there may be', () => {
    expect(added([], { hz: 250, db: -4 })).toEqual({ ...PEAK, hz: 250, gain_db: -4 });
    const [first, second] = [added([]), added([PEAK])];
    expect(first?.gain_db).toBe(0);
    expect((second?.hz ?? 0) / (first?.hz ?? 1)).toBeGreaterThan(2);
    expect(added([PEAK, CUT, SHELF])).toBeNull();
  });
});
