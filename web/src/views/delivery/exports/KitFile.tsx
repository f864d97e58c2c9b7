/** The kit with all its recordings in one file. */
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { type KitState, post } from '../../../api/calls';
import { useKit } from '../../../app/kit/kitStore';
import type { ExportProps } from './exports';

export function KitFile({ begin, empty }: ExportProps) {
  const kit = useKit((s) => s.kit) as KitState;
  const edit = useKit((s) => s.edit);
  const queries = useQueryClient();
  const [name, setName] = useState(kit.head.name);
  return (
    <section className="card grid content-start gap-2.5" aria-label="Kit file">
      <h2 className="text-[15px]">Kit file</h2>
      <p className="text-soft">
        The kit and all its recordings in one file that opens on any machine: layers, notes, touch and routing as they
        stand now. Recordings are packed without loss.
      </p>
      <label className="grid grid-cols-[90px_1fr] items-center">
        <span>Name</span>
        <input
          className="pick"
          value={name}
          maxLength={120}
          onChange={(event) => setName(event.target.value)}
          onBlur={() =>
            name.trim() && name.trim() !== kit.head.name
              ? void edit({ kind: 'rename_kit', name: name.trim() }).then(() =>
                  queries.invalidateQueries({ queryKey: ['kits'] }),
                )
              : setName(kit.head.name)
          }
          onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
        />
      </label>
      <button
        type="button"
        className="btn btn-go justify-self-start"
        disabled={empty}
        onClick={() => void begin(post('/api/kits/{kit_id}/exports/kit-file', { kit_id: kit.id }, {}))}
      >
        Save the kit file
      </button>
    </section>
  );
}
