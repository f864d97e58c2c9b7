/** Whose curve is shown: all inputs', one input's, a piece's or an articulation's; and what each inherits. */
import { create } from 'zustand';
import type { Articulation, Curve, Edit, InForce, KitState, Piece } from '../../api/calls';
import { rules } from '../../app/kit/rules';
import type { Scope } from '../../app/kit/scope';

/** A copied curve, to paste anywhere. */
export const useCopied = create<{ curve: Curve | null }>(() => ({ curve: null }));

export interface Whose extends InForce {
  scope: Scope;
  title: string;
  /** Strikes have passed the input's curve before they enter this one. */
  entering: boolean;
  edit: (curve: Curve | null) => Edit;
}

export function whose(
  scope: Scope,
  { piece, articulation }: { piece: Piece | null; articulation: Articulation | null },
  kit: KitState,
  input: { id: string; name: string },
): Whose {
  if (scope === 'input') {
    return {
      ...(kit.head.inputs.find((each) => each.known.id === input.id)?.curve ?? kit.head.unknown_input),
      scope,
      title: `Input ${input.name}`,
      entering: false,
      edit: (curve) => ({ kind: 'set_curve', target: null, input: input.id, input_name: input.name, curve }),
    };
  }
  if (scope === 'piece' && piece) {
    return {
      ...piece.curve,
      scope,
      title: piece.name,
      entering: true,
      edit: (curve) => ({ kind: 'set_curve', target: piece.id, curve }),
    };
  }
  if (scope === 'articulation' && piece && articulation) {
    return {
      ...articulation.curve,
      scope,
      title: `${piece.name} · ${articulation.name}`,
      entering: true,
      edit: (curve) => ({ kind: 'set_curve', target: articulation.id, curve }),
    };
  }
  return {
    ...kit.head.curve,
    scope: 'all',
    title: 'All inputs',
    entering: false,
    edit: (curve) => ({ kind: 'set_curve', target: null, curve: curve ?? rules().straight }),
  };
}
