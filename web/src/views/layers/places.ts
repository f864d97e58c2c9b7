/** Where a take that is dragged can be dropped. */

export type DropPlace =
  | { kind: 'take' | 'before'; layer: number; place: number }
  | { kind: 'aside' }
  | { kind: 'articulation'; articulation: string };
