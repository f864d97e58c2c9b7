/** The selected EQ band in numbers: its kind, frequency, gain and width. */
import { signed } from '../../../app/kit/format';
import { rules } from '../../../app/kit/rules';
import { Pick } from '../../../ui/Pick';
import { isCut, KINDS } from './bands';
import type { EqBand } from './treating';
import { type ValueField, Values } from './Values';

export const hertz = (hz: number) =>
  hz < 1000 ? `${Math.round(hz)} Hz` : `${(hz / 1000).toFixed(hz < 9995 ? 2 : 1)} kHz`;
const lift = (db: number) => `${signed(db)} dB`;

interface BandValuesProps {
  band: EqBand;
  number: number;
  onTurn: (part: Partial<EqBand>) => void;
  onKeep: (gesture: string) => void;
  onSet: (part: Partial<EqBand>) => void;
  /** Null if the EQ has its maximum of bands. */
  onAdd: (() => void) | null;
  onRemove: () => void;
}

export function BandValues({ band, number, onTurn, onKeep, onSet, onAdd, onRemove }: BandValuesProps) {
  const label = (what: string) => `${what} of band ${number}`;
  const values: ValueField<EqBand>[] = [
    { field: 'hz', name: 'At', label: label('Frequency'), step: 1, page: band.hz / 4, show: hertz, ratio: true },
  ];
  if (band.kind === 'peak') {
    values.push({
      field: 'q',
      name: 'Q',
      label: label('Q'),
      step: 0.05,
      page: 0.5,
      show: (q) => q.toFixed(2),
      ratio: true,
    });
  }
  const steps = { step: 0.1, page: 3, show: lift, bothWays: true } as const;
  values.push(
    isCut(band)
      ? { field: 'resonance_db', name: 'Resonance', label: label('Resonance'), ...steps }
      : { field: 'gain_db', name: 'Gain', label: label('Gain'), ...steps },
  );
  return (
    <div className="grid grid-cols-3 gap-x-3 gap-y-1.5">
      <span className="col-span-3 flex items-center gap-1.5">
        <Pick
          label={`Kind of band ${number}`}
          value={band.kind}
          options={KINDS.map((kind) => ({ ...kind, name: `${number} · ${kind.name}` }))}
          onChange={(kind) => onSet({ kind })}
          className="grow py-0.5"
        />
        <button type="button" className="btn px-2 py-0.5" onClick={onAdd ?? undefined} disabled={!onAdd}>
          Add
        </button>
        <button type="button" className="btn px-2 py-0.5" onClick={onRemove}>
          Remove
        </button>
      </span>
      <Values
        limits="eq_band"
        values={values}
        now={band}
        usual={rules().treatments.band}
        onTurn={onTurn}
        onKeep={onKeep}
      />
    </div>
  );
}
