/** EQ bands moved by hand: frequency, gain, width. Their ranges come from the core. */
import { rules, within } from '../../../app/kit/rules';
import type { EqBand } from './treating';

const SEMITONE = 2 ** (1 / 12);
const STEP_DB = 0.5;
const NARROWER = 1.15;
/** Where bands without a position are added: spread out, from a drum's midrange outwards. */
const ADDED_HZ = [100, 400, 1600, 6000, 200, 800, 3000, 10_000];

export const KINDS: { value: EqBand['kind']; name: string }[] = [
  { value: 'low_cut', name: 'low cut' },
  { value: 'low_shelf', name: 'low shelf' },
  { value: 'peak', name: 'peak' },
  { value: 'high_shelf', name: 'high shelf' },
  { value: 'high_cut', name: 'high cut' },
];
export const kindName = (kind: EqBand['kind']) => KINDS.find((each) => each.value === kind)?.name ?? kind;

export const isCut = ({ kind }: EqBand) => kind === 'low_cut' || kind === 'high_cut';

/** A band's effect at its own frequency, in dB, where its point is drawn. */
export const levelOf = (band: EqBand) => (isCut(band) ? band.resonance_db : band.gain_db);

const withLevel = (band: EqBand, db: number): EqBand =>
  isCut(band)
    ? { ...band, resonance_db: within('eq_band.resonance_db', Number(db.toFixed(2))) }
    : { ...band, gain_db: within('eq_band.gain_db', Number(db.toFixed(1))) };

const withHz = (band: EqBand, hz: number): EqBand => ({ ...band, hz: within('eq_band.hz', Number(hz.toPrecision(4))) });

/** A band dragged to a position of the chart. */
export const moved = (band: EqBand, { hz, db }: { hz: number; db: number }) => withLevel(withHz(band, hz), db);

/** A band narrowed by some steps (negative: widened): a cut resonates more, a shelf stays as it is. */
export function narrowed(band: EqBand, steps: number): EqBand {
  if (isCut(band)) return withLevel(band, levelOf(band) + steps);
  if (band.kind !== 'peak') return band;
  return { ...band, q: within('eq_band.q', Number((band.q * NARROWER ** steps).toPrecision(3))) };
}

/** A band changed by a key; null for other keys. */
export function nudged(band: EqBand, key: string): EqBand | null {
  if (key === 'ArrowLeft') return withHz(band, band.hz / SEMITONE);
  if (key === 'ArrowRight') return withHz(band, band.hz * SEMITONE);
  if (key === 'ArrowUp') return withLevel(band, levelOf(band) + STEP_DB);
  if (key === 'ArrowDown') return withLevel(band, levelOf(band) - STEP_DB);
  if (key === 'PageUp') return narrowed(band, 1);
  if (key === 'PageDown') return narrowed(band, -1);
  return null;
}

/** With another band, at a position or where there is room; null if the EQ has its maximum. */
export function added(bands: readonly EqBand[], at?: { hz: number; db: number }): EqBand | null {
  if (bands.length >= rules().most_bands) return null;
  const first: EqBand = rules().treatments.band;
  return moved(first, at ?? { hz: ADDED_HZ[bands.length] ?? first.hz, db: 0 });
}
