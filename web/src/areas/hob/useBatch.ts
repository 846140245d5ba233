import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { answer, client } from '../../api/client';
import { ApiProblem } from '../../api/problem';
import { keys } from '../../api/queries';
import { stream } from '../../api/stream';
import type { BatchOut } from '../../api/types';
import { store } from '../../outbox/db';
import { useOutbox, useOutboxState } from '../../outbox/OutboxProvider';

/** Without a word from the stream the batch is read again after this long, and its times move on. */
const EVERY_MS = 20_000;

export interface Followed {
  batch: BatchOut | undefined;
  /** True while what is shown was kept on this tablet and the server cannot be asked. */
  kept: boolean;
  problem: ApiProblem | null;
}

/** A batch as the server reckons it, followed live; as last seen here while there is no connection. */
export function useBatch(id: string): Followed {
  const queryClient = useQueryClient();
  const outbox = useOutbox();
  const seen = useOutboxState().seen[id] ?? 0;
  const found = useQuery({
    queryKey: keys.batch(id),
    queryFn: async ({ signal }) => {
      try {
        const batch = await answer(client.GET('/api/batches/{batch_id}', { params: { path: { batch_id: id } }, signal }));
        outbox.read(id, batch.report.sheet.seq);
        void store().then((db) => db.put('batches', { id, batch, seenAt: new Date().toISOString() }));
        return { batch, kept: false };
      } catch (error) {
        if (!(error instanceof ApiProblem) || (error.status !== 0 && error.status < 500)) throw error;
        const last = await (await store()).get('batches', id);
        if (!last) throw error;
        return { batch: last.batch, kept: true };
      }
    },
    refetchInterval: EVERY_MS,
    staleTime: 0,
  });
  const known = found.data !== undefined;
  useEffect(() => {
    if (!known) return;
    const seq = outbox.snapshot().seen[id] ?? 0;
    return stream.follow(id, seq, () => void queryClient.invalidateQueries({ queryKey: keys.batch(id), exact: true }));
  }, [known, id, queryClient, outbox]);
  // An entry that was kept while the batch was being read is not in what was read.
  const { data, isFetching, refetch } = found;
  const behind = data !== undefined && !data.kept && data.batch.report.sheet.seq < seen;
  useEffect(() => {
    if (behind && !isFetching) void refetch();
  }, [behind, isFetching, refetch]);
  return { batch: found.data?.batch, kept: found.data?.kept ?? false, problem: found.error };
}
