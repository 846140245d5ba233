const KEY = 'oakenjug.clock';
/** A tablet that is off by less is taken to be right. */
const NEAR_MS = 1500;
/** An answer that took longer says nothing about the time. */
const SLOW_MS = 5000;

let ahead = remembered();

function remembered(): number {
  try {
    const kept = Number(window.localStorage.getItem(KEY));
    return Number.isFinite(kept) ? kept : 0;
  } catch {
    return 0;
  }
}

/**
 * Learns how far the server's clock is ahead of this tablet's. Two tablets that boil one pot must mean
 * the same minute: timers, weighings and the time of readiness go by the server's clock on each of them.
 */
export function learnClock(serverSays: string, askedAt: number, answeredAt: number) {
  if (answeredAt - askedAt > SLOW_MS || answeredAt < askedAt) return;
  const found = Date.parse(serverSays) - (askedAt + answeredAt) / 2;
  if (!Number.isFinite(found)) return;
  ahead = Math.abs(found) < NEAR_MS ? 0 : Math.round(found);
  try {
    window.localStorage.setItem(KEY, String(ahead));
  } catch {
    // Without storage it is learnt again at the next answer.
  }
}

/** Now, by the server's clock as far as it is known. [ms since 1970] */
export function serverNow(): number {
  return Date.now() + ahead;
}
