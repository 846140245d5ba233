import { useEffect, useRef, useState } from 'react';

/** A second tap of wet fingers comes within this. */
const DOUBLE_TAP_MS = 300;

/** Whether a button has only just come to mean what it means: what is pressed twice by mistake must not do two things. */
export function useDead(means: string): boolean {
  const [alive, setAlive] = useState('');
  useEffect(() => {
    const timer = window.setTimeout(() => setAlive(means), DOUBLE_TAP_MS);
    return () => window.clearTimeout(timer);
  }, [means]);
  return alive !== means;
}

/** A press that moves on: nothing while what it means is new, and nothing a second time. Without a meaning every press counts. */
export function usePressOnce(means: string | null): { dead: boolean; press: (act: () => void) => void } {
  const fresh = useDead(means ?? '');
  // What was pressed takes a moment to be kept and shown: until then the button still means what has just been done.
  const pressedAt = useRef(-Infinity);
  if (means === null) return { dead: false, press: (act) => act() };
  return {
    dead: fresh,
    press: (act) => {
      const at = performance.now();
      if (fresh || at - pressedAt.current < DOUBLE_TAP_MS) return;
      pressedAt.current = at;
      act();
    },
  };
}
