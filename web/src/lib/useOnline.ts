import { useSyncExternalStore } from 'react';

function listen(changed: () => void) {
  window.addEventListener('online', changed);
  window.addEventListener('offline', changed);
  return () => {
    window.removeEventListener('online', changed);
    window.removeEventListener('offline', changed);
  };
}

/** Whether this browser has a network at all. */
export function useOnline(): boolean {
  return useSyncExternalStore(listen, () => navigator.onLine);
}
