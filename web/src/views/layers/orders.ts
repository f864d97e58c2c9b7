/** The names of round robins. */
export const ORDERS = [
  { value: 'in_turn' as const, name: 'In turn' },
  { value: 'shuffled' as const, name: 'Shuffled' },
  { value: 'random' as const, name: 'Random' },
  { value: 'together' as const, name: 'Together' },
];
