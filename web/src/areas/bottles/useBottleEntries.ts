import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useState, useSyncExternalStore } from 'react';
import { keys } from '../../api/queries';
import { BottleEntries } from '../../outbox/bottleEntries';

/** What is entered about bottles on this phone, sent as soon as it can be; what the server has is read anew. */
export function useBottleEntries() {
  const queryClient = useQueryClient();
  const [entries] = useState(
    () => new BottleEntries(() => void queryClient.invalidateQueries({ queryKey: keys.stock })),
  );
  useEffect(() => () => entries.stop(), [entries]);
  return { entries, state: useSyncExternalStore(entries.subscribe, entries.snapshot) };
}
