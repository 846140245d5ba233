import { keepPreviousData, queryOptions } from '@tanstack/react-query';
import { answer, client } from './client';
import { lastPerson, rememberPerson } from '../lib/lastPerson';
import { ApiProblem } from './problem';

declare module '@tanstack/react-query' {
  interface Register {
    defaultError: ApiProblem;
  }
}

export const keys = {
  session: ['session'] as const,
  people: ['people at the tablet'] as const,
  everybody: ['everybody at the site'] as const,
  kitchen: ['kitchen'] as const,
  substances: ['substances'] as const,
  starters: ['starters'] as const,
  formulas: ['formulas'] as const,
  formula: (id: string) => ['formulas', id] as const,
  versions: (id: string) => ['formulas', id, 'versions'] as const,
  batches: ['batches'] as const,
  batchLists: ['batches', 'list'] as const,
  batch: (id: string) => ['batches', id] as const,
};

export const sessionQuery = queryOptions({
  queryKey: keys.session,
  queryFn: async () => {
    try {
      const session = await answer(client.GET('/api/session'));
      rememberPerson(session.person ?? null);
      return session;
    } catch (error) {
      const last = error instanceof ApiProblem && (error.status === 0 || error.status >= 500) ? lastPerson() : null;
      if (!last) throw error;
      // Without a network the tablet goes on under the name it last had; the server asks again when it is back.
      return { person: last, demo_sign_ins: [] };
    }
  },
});
export const kitchenQuery = queryOptions({
  queryKey: keys.kitchen,
  queryFn: () => answer(client.GET('/api/kitchen')),
});
export const substancesQuery = queryOptions({
  queryKey: keys.substances,
  queryFn: () => answer(client.GET('/api/substances')),
  staleTime: Infinity,
});
export const startersQuery = queryOptions({
  queryKey: keys.starters,
  queryFn: () => answer(client.GET('/api/formulas/starters')),
  staleTime: Infinity,
});
export const formulasQuery = queryOptions({
  queryKey: keys.formulas,
  queryFn: () => answer(client.GET('/api/formulas')),
});
export const formulaQuery = (id: string) =>
  queryOptions({
    queryKey: keys.formula(id),
    queryFn: () => answer(client.GET('/api/formulas/{formula_id}', { params: { path: { formula_id: id } } })),
    // A draft under edit is not replaced under the person's hands; a save conflict says when it changed.
    staleTime: Infinity,
    gcTime: 0,
  });
export const versionsQuery = (id: string) =>
  queryOptions({
    queryKey: keys.versions(id),
    queryFn: () => answer(client.GET('/api/formulas/{formula_id}/versions', { params: { path: { formula_id: id } } })),
  });
/** Which batches are asked for; nothing asks for all. */
export interface BatchesAsk {
  q?: string;
  status?: '' | 'running' | 'finished' | 'stopped';
  off_plan?: boolean;
}
export const batchesQuery = (ask: BatchesAsk = {}) =>
  queryOptions({
    queryKey: [...keys.batches, 'list', ask],
    queryFn: () => answer(client.GET('/api/batches', { params: { query: ask } })),
    placeholderData: keepPreviousData,
  });
