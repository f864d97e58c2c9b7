/** The keys of a slider: arrows for a step, Page keys for a large one, Home and End for its ends. */
interface Steps {
  least: number;
  most: number;
  step?: number;
  page: number;
}

/** Where a key moves a slider; null for other keys. */
export function nudged(key: string, at: number, { least, most, step = 1, page }: Steps): number | null {
  const to = {
    ArrowLeft: at - step,
    ArrowDown: at - step,
    ArrowRight: at + step,
    ArrowUp: at + step,
    PageDown: at - page,
    PageUp: at + page,
    Home: least,
    End: most,
  }[key];
  return to === undefined ? null : Math.max(least, Math.min(most, to));
}
