/** A function with a stable identity that calls the latest version of itself. */
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
