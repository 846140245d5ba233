import { useEffect, useState } from 'react';

/** The time, moving on every so often. */
export function useNow(every_ms = 1000): number {
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    const timer = window.setInterval(() => setNow(Date.now()), every_ms);
    return () => window.clearInterval(timer);
  }, [every_ms]);
  return now;
}
