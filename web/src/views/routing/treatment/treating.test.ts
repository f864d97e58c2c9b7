/** Treatments of a channel: one of each kind; turned at once, kept as one edit. */
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { Channel, Rules } from '../../../api/calls';
import { channelNow, useDesk } from '../../../app/kit/desk';
import { channelOf, deskKit, FIRST } from '../../../app/kit/desk.fixture';
import { useKit } from '../../../app/kit/kitStore';
import { takeRules } from '../../../app/kit/rules';
import { responseDb } from './response';
import { keepTreatments, of, stageOf, turnTreatment, withTreatment } from './treating';

const snare = channelOf('snare-channel');
const turned = vi.fn();
const edit = vi.fn(async () => null);

beforeEach(() => {
  turned.mockClear();
  edit.mockClear();
  useDesk.setState({ turned: {} });
  takeRules({ treatments: FIRST } as Rules);
  useKit.setState({ kit: deskKit('k', snare), player: { turn: turned } as never, edit: edit as never });
});

describe('treatments', () => {
  it('are one of a kind: another of its kind takes its place', () => {
    const all = withTreatment(withTreatment([FIRST.drive], FIRST.compressor), FIRST.eq);
    expect(all.map((t) => t.kind).sort()).toEqual(['compressor', 'drive', 'eq']);
    const changed = { ...snare, treatments: withTreatment(all, { ...FIRST.compressor, ratio: 9 }) };
    expect(changed.treatments).toHaveLength(3);
    expect(of(changed, 'compressor')?.ratio).toBe(9);
    expect(of(snare, 'drive')).toBeNull();
  });

  it('begin as the core says, and are switched on by what is turned of them', () => {
    const { now, on, turn, set, switchTo } = stageOf(snare, 'compressor');
    expect([now, on]).toEqual([FIRST.compressor, false]);
    turn({ ratio: 8 });
    expect(edit).not.toHaveBeenCalled();
    expect(of(channelNow('snare-channel') as Channel, 'compressor')).toEqual({ ...FIRST.compressor, ratio: 8 });
    switchTo(false);
    expect(turned.mock.calls.at(-1)?.[0].treatments).toEqual([]);
    set({ knee_db: 0 }, 'a move');
    expect(of(channelNow('snare-channel') as Channel, 'compressor')).toMatchObject({ on: true, knee_db: 0 });
    expect(edit.mock.calls.map((call) => (call as unknown[])[1])).toEqual([expect.any(String), 'a move']);
  });

  it('are heard while they are turned, with nobody asked, and kept as one edit that says them all', () => {
    turnTreatment('snare-channel', { ...FIRST.drive, drive_db: 3 });
    turnTreatment('snare-channel', { ...FIRST.drive, drive_db: 12 });
    turnTreatment('snare-channel', FIRST.eq);
    expect(edit).not.toHaveBeenCalled();
    expect(turned.mock.calls.at(-1)?.[0].treatments).toMatchObject([{ kind: 'drive', drive_db: 12 }, { kind: 'eq' }]);
    keepTreatments('snare-channel', 'drag 1');
    expect(edit).toHaveBeenCalledExactlyOnceWith(
      {
        kind: 'set_treatments',
        channel: 'snare-channel',
        treatments: [{ ...FIRST.drive, drive_db: 12 }, FIRST.eq],
      },
      'drag 1',
    );
  });

  it('stay turned until the studio has them, and what was turned meanwhile stays turned after', async () => {
    let answer: (value: null) => void = () => undefined;
    edit.mockImplementationOnce(() => new Promise((resolve) => (answer = resolve as never)));
    stageOf(snare, 'drive').switchTo(true);
    expect(useDesk.getState().turned['snare-channel']).toBeDefined();
    turnTreatment('snare-channel', { ...FIRST.drive, drive_db: 20 });
    answer(null);
    await Promise.resolve();
    await Promise.resolve();
    expect(useDesk.getState().turned['snare-channel']?.treatments).toMatchObject([{ drive_db: 20 }]);
    keepTreatments('snare-channel', 'again');
    await vi.waitFor(() => expect(useDesk.getState().turned).toEqual({}));
    // With nothing turned any more the player goes by what is saved.
    expect(turned.mock.calls.at(-1)).toEqual([null, 'snare-channel']);
  });
});

describe('the response that is drawn', () => {
  const peak = { kind: 'peak', hz: 1000, gain_db: 6, q: 2, resonance_db: -3.01 } as const;

  it('is the bands added up in dB', () => {
    expect(responseDb([], 440, 48_000)).toBe(0);
    expect(responseDb([peak], 1000, 48_000)).toBeCloseTo(6, 9);
    expect(responseDb([peak, { ...peak, gain_db: -2 }], 1000, 48_000)).toBeCloseTo(4, 9);
    expect(Math.abs(responseDb([peak], 30, 48_000))).toBeLessThan(0.05);
    const cut = { ...peak, kind: 'low_cut', hz: 200 } as const;
    expect(responseDb([cut], 200, 48_000)).toBeCloseTo(-3.01, 2);
    expect(responseDb([cut], 50, 48_000) - responseDb([cut], 25, 48_000)).toBeCloseTo(12, 0);
  });
});
