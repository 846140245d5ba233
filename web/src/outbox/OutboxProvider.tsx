import { useQueryClient } from '@tanstack/react-query';
import { createContext, type ReactNode, useContext, useEffect, useState, useSyncExternalStore } from 'react';
import { keys } from '../api/queries';
import { Outbox, type OutboxState } from './outbox';

const OutboxContext = createContext<Outbox | null>(null);

/** One outbox for the whole app; it sends on whatever screen one is. */
export function OutboxProvider({ children }: { children: ReactNode }) {
  const queryClient = useQueryClient();
  const [outbox] = useState(() => new Outbox((batch) => void queryClient.invalidateQueries({ queryKey: keys.batch(batch) })));
  // Mounted means somebody is signed in again: what waits can go.
  useEffect(() => outbox.hurry(), [outbox]);
  return <OutboxContext.Provider value={outbox}>{children}</OutboxContext.Provider>;
}

export function useOutbox(): Outbox {
  const outbox = useContext(OutboxContext);
  if (!outbox) throw new Error('useOutbox is used outside its provider.');
  return outbox;
}

export function useOutboxState(): OutboxState {
  const outbox = useOutbox();
  return useSyncExternalStore(outbox.subscribe, outbox.snapshot);
}
