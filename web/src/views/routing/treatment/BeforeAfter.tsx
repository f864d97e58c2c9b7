/** Switches between a channel before and after its treatment, at matched loudness. */
import type { Compared } from './equally';

export function BeforeAfter({ compared, of }: { compared: Compared; of: string }) {
  const { figure, before, treats, listen } = compared;
  const can = treats && figure?.louder_db !== null && figure !== null;
  const why = treats ? whyNot(compared) : `${of} has no treatment yet`;
  return (
    <button
      type="button"
      className="btn px-2 py-0.5 aria-pressed:border-plum aria-pressed:bg-plum aria-pressed:text-card"
      aria-pressed={before}
      disabled={!can && !before}
      title={can ? `Hear ${of} without treatment, loudness-matched (listening only; the kit does not change)` : why}
      onClick={() => listen(!before)}
    >
      {before ? 'Before, loudness-matched' : 'Before / after'}
    </button>
  );
}

/** Why there is no figure. */
export function whyNot({ figure, measuring, said, groove }: Compared): string {
  if (said) return said;
  if (measuring) return 'Measuring…';
  if (!groove) return 'Choose a groove under Rehearsal to measure loudness with';
  return figure ? `${groove} is too quiet here to measure loudness; choose another groove under Rehearsal` : '';
}

/** How much louder, in words; `figure` in tenths of a dB. */
export function louderSaid(db: number): string {
  if (Math.abs(db) < 0.05) return 'Treatment does not change the loudness';
  return `Treatment makes it ${Math.abs(db).toFixed(1)} dB ${db > 0 ? 'louder' : 'softer'}`;
}
