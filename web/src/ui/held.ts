/** A value being dragged, shown until it is released and the studio has responded to every edit. */
import { useEffect, useRef, useState } from 'react';
import { useKeeping } from './gestures';

interface Hold<T> {
  held: T | null;
  /** Show this from now on; a key moves a value without gripping it. */
  hold: (to: T) => void;
  grip: () => void;
  letGo: () => void;
}

/** `kept` is the saved value; the dragged one is shown until it changes or the last response has come. */
export function useHeld<T>(kept: unknown): Hold<T> {
  const keeping = useKeeping((s) => s.keeping);
  const [held, setHeld] = useState<T | null>(null);
  const gripping = useRef(false);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a change of the saved value is the trigger
  useEffect(() => {
    // A response to an earlier move must not reset the value while later moves are on their way.
    if (!keeping && !gripping.current) setHeld(null);
  }, [keeping, kept]);
  return {
    held,
    hold: setHeld,
    grip: () => {
      gripping.current = true;
    },
    letGo: () => {
      gripping.current = false;
      if (!useKeeping.getState().keeping) setHeld(null);
    },
  };
}
