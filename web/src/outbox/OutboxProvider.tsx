import { useQueryClient } from '@tanstack/react-query';
import { createContext, type ReactNode, useContext, useEffect, useState, useSyncExternalStore } from 'react';
import { keys } from '../api/queries';
import { Outbox, type OutboxState } from './outbox';

const OutboxContext = createContext<Outbox | null>(null);

/** One outbox for the whole app; it sends on whatever screen one is. */
export function OutboxProvider({ person, children }: { person: string | undefined; children: ReactNode }) {
  const queryClient = useQueryClient();
  const [outbox] = useState(
    () => new Outbox((batch) => void queryClient.invalidateQueries({ queryKey: keys.batch(batch) })),
  );
  // Somebody is signed in, or somebody else: what waits can go.
  useEffect(() => {
    if (person) outbox.hurry();
  }, [outbox, person]);
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
