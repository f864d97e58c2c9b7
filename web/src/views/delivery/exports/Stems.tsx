/** Stems: a groove played by the kit, one file per output. */
import { useState } from 'react';
import { type Stems as Asked, type KitState, post } from '../../../api/calls';
import { count } from '../../../app/kit/format';
import { transport, useKit } from '../../../app/kit/kitStore';
import { rules } from '../../../app/kit/rules';
import { useGrooves } from '../../../app/playing/grooves';
import { Pick } from '../../../ui/Pick';
import type { ExportProps } from './exports';

type Rate = NonNullable<Asked['rate_hz']>;
type Bits = NonNullable<Asked['bits']>;

export function Stems({ begin, empty }: ExportProps) {
  const kit = useKit((s) => s.kit) as KitState;
  const { data: grooves = [] } = useGrooves();
  const [groove, setGroove] = useState<number | null>(transport.groove?.id ?? null);
  const [rate, setRate] = useState(kit.head.rate_hz as Rate);
  const [bits, setBits] = useState<Bits>(24);
  const chosen = groove ?? grooves[0]?.id ?? null;
  const outputs = kit.head.outputs_used;
  const named = outputs.map((n) => kit.head.outputs.find((o) => o.number === n)?.name ?? String(n));
  return (
    <section className="card grid content-start gap-2.5" aria-label="Stems">
      <h2 className="text-[15px]">Stems</h2>
      <p className="text-soft">
        One WAV file per output, exactly as you hear it: {count(outputs.length, 'file')} as the kit is routed now
        {named.length ? ` (${named.join(', ')})` : ''}.
      </p>
      <div className="grid grid-cols-[90px_1fr] items-center gap-y-2">
        <span>Groove</span>
        <Pick
          label="Groove"
          value={chosen ?? 0}
          options={grooves.map((g) => ({ value: g.id, name: `${g.name}, ${g.length_s.toFixed(1)} s` }))}
          onChange={setGroove}
        />
        <span>Sample rate</span>
        <Pick
          label="Sample rate"
          value={rate}
          options={rules().rates_hz.map((value) => ({ value: value as Rate, name: `${value / 1000} kHz` }))}
          onChange={setRate}
        />
        <span>Bits</span>
        <Pick
          label="Bits"
          value={bits}
          options={rules().bits.map((value) => ({
            value: value as Bits,
            name: value === 32 ? '32, floating point' : String(value),
          }))}
          onChange={setBits}
        />
      </div>
      <button
        type="button"
        className="btn btn-go justify-self-start"
        disabled={chosen === null || empty}
        onClick={() =>
          void begin(
            post(
              '/api/kits/{kit_id}/exports/stems',
              { kit_id: kit.id },
              { groove: chosen as number, rate_hz: rate, bits },
            ),
          )
        }
      >
        Render stems
      </button>
    </section>
  );
}
