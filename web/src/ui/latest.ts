/** A function that stays the same while what it does follows the latest drawing. */
import { useRef, useState } from 'react';

export function useLatest<Args extends unknown[]>(does: (...args: Args) => void): (...args: Args) => void {
  const latest = useRef(does);
  latest.current = does;
  const [same] = useState(
    () =>
      (...args: Args) =>
        latest.current(...args),
  );
  return same;
}
