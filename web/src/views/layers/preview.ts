/** An edit previewed in the chart before it is made. */
import { useState } from 'react';
import { type Articulation, type Edit, post } from '../../api/calls';
import { useKit } from '../../app/kit/kitStore';

export interface Preview {
  said: string;
  ghost: Articulation | null;
  show: (said: string, edit: Edit) => Promise<void>;
  apply: () => Promise<void>;
  leave: () => void;
}

export function usePreview(articulation: Articulation, version: number): Preview {
  const [kept, setShown] = useState<{ said: string; edit: Edit; ghost: Articulation; version: number } | null>(null);
  // A change of the kit invalidates the preview.
  const shown = kept?.version === version && kept.ghost.id === articulation.id ? kept : null;
  const leave = () => setShown(null);
  return {
    said: shown?.said ?? '',
    ghost: shown?.ghost ?? null,
    show: async (said, edit) => {
      const { kit, say } = useKit.getState();
      if (!kit) return;
      try {
        const pieces = await post(
          '/api/kits/{kit_id}/preview',
          { kit_id: kit.id },
          { base_version: kit.version, edit },
        );
        const ghost = pieces.flatMap((piece) => piece.articulations).find((a) => a.id === articulation.id);
        if (ghost) setShown({ said, edit, ghost, version: kit.version });
        else say('Nothing to change: it is like that already.');
      } catch (error) {
        say((error as Error).message);
      }
    },
    apply: async () => {
      if (shown) await useKit.getState().edit(shown.edit);
      leave();
    },
    leave,
  };
}
