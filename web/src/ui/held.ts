/** What a hand has moved something to, shown until it lets go and the studio has answered everything it was sent. */
import { useEffect, useRef, useState } from 'react';
import { useKeeping } from './gestures';

interface Hold<T> {
  held: T | null;
  /** Show this from now on; a key moves something without gripping it. */
  hold: (to: T) => void;
  grip: () => void;
  letGo: () => void;
}

/** `kept` is what the studio has of it: a change of that, or the last answer, is what is waited for. */
export function useHeld<T>(kept: unknown): Hold<T> {
  const keeping = useKeeping((s) => s.keeping);
  const [held, setHeld] = useState<T | null>(null);
  const gripping = useRef(false);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is kept is waited for, not read
  useEffect(() => {
    // An answer to an earlier move is no reason to go back to it while later ones are on their way.
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
