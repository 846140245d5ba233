import { useEffect, useState } from 'react';

/** A second tap of wet fingers comes within this. */
export const DOUBLE_TAP_MS = 300;

/** Whether a button has only just come to mean what it means: what is pressed twice by mistake must not do two things. */
export function useDead(means: string): boolean {
  const [alive, setAlive] = useState('');
  useEffect(() => {
    const timer = window.setTimeout(() => setAlive(means), DOUBLE_TAP_MS);
    return () => window.clearTimeout(timer);
  }, [means]);
  return alive !== means;
}
