/** The seven steps, in order: the places of the application. */
export const STEPS = [
  { id: 'recordings', name: 'Recordings' },
  { id: 'layers', name: 'Layers' },
  { id: 'notes', name: 'Notes' },
  { id: 'touch', name: 'Touch' },
  { id: 'routing', name: 'Routing' },
  { id: 'rehearsal', name: 'Rehearsal' },
  { id: 'delivery', name: 'Delivery' },
] as const;
