import { queryOptions } from '@tanstack/react-query';
import { answer, client } from './client';
import type { ApiProblem } from './problem';

declare module '@tanstack/react-query' {
  interface Register {
    defaultError: ApiProblem;
  }
}

export const keys = {
  session: ['session'] as const,
  kitchen: ['kitchen'] as const,
  substances: ['substances'] as const,
  starters: ['starters'] as const,
  formulas: ['formulas'] as const,
  formula: (id: string) => ['formulas', id] as const,
  versions: (id: string) => ['formulas', id, 'versions'] as const,
  batches: ['batches'] as const,
  batch: (id: string) => ['batches', id] as const,
};

export const sessionQuery = queryOptions({
  queryKey: keys.session,
  queryFn: () => answer(client.GET('/api/session')),
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
export const batchesQuery = queryOptions({
  queryKey: keys.batches,
  queryFn: () => answer(client.GET('/api/batches')),
});
