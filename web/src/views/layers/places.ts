/** Where a dragged take can be dropped. */

export type DropPlace =
  | { kind: 'take' | 'before'; layer: number; place: number }
  | { kind: 'unused' }
  | { kind: 'articulation'; articulation: string };
