import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { answer, client } from '../../api/client';
import { ApiProblem } from '../../api/problem';
import { keys } from '../../api/queries';
import { stream } from '../../api/stream';
import type { BatchOut } from '../../api/types';
import { learnClock } from '../../lib/serverClock';
import { shelf } from '../../outbox/shelf';
import { useOutbox, useOutboxState } from '../../outbox/OutboxProvider';

/** Without a word from the stream the batch is read again after this long, and its times move on. */
const EVERY_MS = 20_000;

export interface Followed {
  batch: BatchOut | undefined;
  /** True while what is shown was kept on this tablet and the server cannot be asked. */
  kept: boolean;
  problem: ApiProblem | null;
}

/** Keeps a batch as it was seen, for when there is no connection; a browser that keeps nothing shows it only while there is one. */
async function remember(batch: BatchOut) {
  try {
    await (await shelf()).see(batch);
  } catch {
    // What was seen is no entry: nothing a person typed is lost with it.
  }
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
        const askedAt = Date.now();
        const batch = await answer(
          client.GET('/api/v1/batches/{batch_id}', { params: { path: { batch_id: id } }, signal }),
        );
        learnClock(batch.as_of, askedAt, Date.now());
        void remember(batch);
        return { batch, kept: false };
      } catch (error) {
        if (!(error instanceof ApiProblem) || (error.status !== 0 && error.status < 500)) throw error;
        const last = await (await shelf()).lastSeen(id);
        if (!last) throw error;
        return { batch: last, kept: true };
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
  // Only what is shown already may leave the outbox: else for a moment it would stand nowhere, and the screen jump back.
  const shownSeq = data !== undefined && !data.kept ? data.batch.report.sheet.seq : null;
  useEffect(() => {
    if (shownSeq !== null) outbox.read(id, shownSeq);
  }, [outbox, id, shownSeq]);
  const behind = data !== undefined && !data.kept && data.batch.report.sheet.seq < seen;
  useEffect(() => {
    if (behind && !isFetching) void refetch();
  }, [behind, isFetching, refetch]);
  return { batch: found.data?.batch, kept: found.data?.kept ?? false, problem: found.error };
}
