import { useEffect, useState } from 'react';
import { serverNow } from './serverClock';

/** The time by the server's clock, moving on every so often. */
export function useNow(every_ms = 1000): number {
  const [now, setNow] = useState(serverNow);
  useEffect(() => {
    const timer = window.setInterval(() => setNow(serverNow()), every_ms);
    return () => window.clearInterval(timer);
  }, [every_ms]);
  return now;
}
