/** Whose curve is looked at: everybody's, one input's, a piece's or an articulation's; and what each inherits. */
import { create } from 'zustand';
import type { Articulation, Curve, Edit, KitState, Piece } from '../../api/calls';

export type Scope = 'all' | 'input' | 'piece' | 'stroke';

export const STRAIGHT: Curve = {
  nodes: [
    { x: 0, y: 0, bend: 0 },
    { x: 127, y: 127, bend: 0 },
  ],
};

interface Scoped {
  scope: Scope;
  side: 'Strikes' | 'Fit' | 'Pads';
  choose: (scope: Scope) => void;
  show: (side: Scoped['side']) => void;
}

export const useScope = create<Scoped>((set) => ({
  scope: 'all',
  side: 'Strikes',
  choose: (scope) => set({ scope }),
  show: (side) => set({ side }),
}));

/** A curve copied, to be pasted anywhere. */
export const useCopied = create<{ curve: Curve | null }>(() => ({ curve: null }));

export interface Whose {
  scope: Scope;
  title: string;
  curve: Curve;
  /** What plays for each velocity, and the same before it is rounded, to be drawn. */
  table: number[];
  line: number[];
  /** It has a curve of its own; otherwise `inherits` says whose it follows. */
  own: boolean;
  inherits: string;
  /** Strikes have passed the curve of what comes in before they enter this one. */
  entering: boolean;
  edit: (curve: Curve | null) => Edit;
}

export function whose(
  scope: Scope,
  { piece, stroke }: { piece: Piece | null; stroke: Articulation | null },
  kit: KitState,
  input: { id: string; name: string },
): Whose {
  const known = kit.head.inputs.find((each) => each.known.id === input.id);
  if (scope === 'input') {
    return {
      scope,
      title: `Everything from ${input.name}`,
      curve: known?.known.curve ?? kit.head.curve,
      table: known?.table ?? kit.head.table,
      line: known?.line ?? kit.head.line,
      own: Boolean(known?.known.curve),
      inherits: 'It follows the curve of everything coming in.',
      entering: false,
      edit: (curve) => ({ kind: 'set_curve', target: null, input: input.id, input_name: input.name, curve }),
    };
  }
  if (scope === 'piece' && piece) {
    return {
      scope,
      title: piece.name,
      curve: piece.curve ?? STRAIGHT,
      table: piece.table,
      line: piece.line,
      own: piece.curve !== null,
      inherits: 'It has no curve of its own: what comes in plays as it is.',
      entering: true,
      edit: (curve) => ({ kind: 'set_curve', target: piece.id, curve }),
    };
  }
  if (scope === 'stroke' && piece && stroke) {
    return {
      scope,
      title: `${piece.name} · ${stroke.name}`,
      curve: stroke.curve ?? piece.curve ?? STRAIGHT,
      table: stroke.table,
      line: stroke.line,
      own: stroke.curve !== null,
      inherits: piece.curve
        ? `It follows the curve of ${piece.name}.`
        : 'It has no curve of its own: what comes in plays as it is.',
      entering: true,
      edit: (curve) => ({ kind: 'set_curve', target: stroke.id, curve }),
    };
  }
  const others = kit.head.inputs.filter((each) => each.known.curve).map((each) => each.known.name);
  return {
    scope: 'all',
    title: 'Everything coming in',
    curve: kit.head.curve,
    table: kit.head.table,
    line: kit.head.line,
    own: true,
    inherits: others.length ? `${others.join(' and ')} ${others.length > 1 ? 'have' : 'has'} a curve of its own.` : '',
    entering: false,
    edit: (curve) => ({ kind: 'set_curve', target: null, curve: curve ?? STRAIGHT }),
  };
}
