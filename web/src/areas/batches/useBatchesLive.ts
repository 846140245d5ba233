import { useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { keys } from '../../api/queries';
import { stream } from '../../api/stream';

/** No list is read more often than this while batches move. */
const PAUSE_MS = 1500;

/** Keeps a list of batches up to date while it is shown. */
export function useBatchesLive() {
  const queryClient = useQueryClient();
  useEffect(() => {
    let timer = 0;
    const end = stream.all(() => {
      timer ||= window.setTimeout(() => {
        timer = 0;
        void queryClient.invalidateQueries({ queryKey: keys.batchLists });
      }, PAUSE_MS);
    });
    return () => {
      window.clearTimeout(timer);
      end();
    };
  }, [queryClient]);
}
