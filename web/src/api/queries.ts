import { infiniteQueryOptions, keepPreviousData, queryOptions } from '@tanstack/react-query';
import { answer, client } from './client';
import { lastPerson, rememberPerson } from '../lib/lastPerson';
import { ApiProblem } from './problem';
import type { PlanPin } from './types';

declare module '@tanstack/react-query' {
  interface Register {
    defaultError: ApiProblem;
  }
}

export const keys = {
  session: ['session'] as const,
  people: ['people at the tablet'] as const,
  everybody: ['everybody at the site'] as const,
  signedIn: ['sessions'] as const,
  changes: ['changes'] as const,
  kitchen: ['kitchen'] as const,
  business: ['business'] as const,
  substances: ['substances'] as const,
  substance: (id: string) => ['substances', 'one', id] as const,
  starters: ['starters'] as const,
  formulas: ['formulas'] as const,
  formulaLists: ['formulas', 'list'] as const,
  formula: (id: string) => ['formulas', id] as const,
  versions: (id: string) => ['formulas', id, 'versions'] as const,
  benchmarkLists: ['benchmarks', 'list'] as const,
  benchmark: (id: string) => ['benchmarks', 'one', id] as const,
  batches: ['batches'] as const,
  batchLists: ['batches', 'list'] as const,
  batch: (id: string) => ['batches', id] as const,
  stock: ['stock'] as const,
  money: ['money'] as const,
  sales: ['sales'] as const,
  plan: ['plan'] as const,
  drinks: ['drinks'] as const,
  drinkLists: ['drinks', 'list'] as const,
  drink: (id: string) => ['drinks', 'one', id] as const,
  drinkVersions: (id: string) => ['drinks', 'one', id, 'versions'] as const,
};

export const sessionQuery = queryOptions({
  queryKey: keys.session,
  queryFn: async () => {
    try {
      const session = await answer(client.GET('/api/v1/session'));
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
/** Who may take over at this tablet. */
export const peopleQuery = queryOptions({
  queryKey: keys.people,
  queryFn: () => answer(client.GET('/api/v1/session/people')),
});
export const kitchenQuery = queryOptions({
  queryKey: keys.kitchen,
  queryFn: () => answer(client.GET('/api/v1/kitchen')),
});
/** What the site counts in, and when and where it is open: it changes seldom, and saving it says so. */
export const businessQuery = queryOptions({
  queryKey: keys.business,
  queryFn: () => answer(client.GET('/api/v1/business')),
  staleTime: Infinity,
});
/** What a batch of a version takes of what is made here. */
export const needsQuery = (formula: string, version: number, times: number) =>
  queryOptions({
    queryKey: [...keys.stock, 'needs', formula, version, times],
    queryFn: () => answer(client.GET('/api/v1/stock/needs', { params: { query: { formula, version, times } } })),
    retry: false,
  });
/** The site's drinks, those whose name has all the words. */
export const drinkPagesQuery = (q: string) =>
  infiniteQueryOptions({
    queryKey: [...keys.drinkLists, q],
    queryFn: ({ pageParam }) => answer(client.GET('/api/v1/drinks', { params: { query: { q, cursor: pageParam } } })),
    initialPageParam: '',
    getNextPageParam: (page) => page.next ?? undefined,
    placeholderData: keepPreviousData,
  });
/** Whom the site buys from. */
export const suppliersQuery = queryOptions({
  queryKey: [...keys.substances, 'suppliers'],
  queryFn: () => answer(client.GET('/api/v1/suppliers')),
});
/** What was sold over the last weeks. */
export const salesQuery = queryOptions({
  queryKey: [...keys.sales, 'weeks'],
  queryFn: () => answer(client.GET('/api/v1/sales', { params: { query: { weeks: 9 } } })),
});
/** What was sold at a place on a day. */
export const salesDayQuery = (on: string, place: number) =>
  queryOptions({
    queryKey: [...keys.sales, 'day', on, place],
    queryFn: () => answer(client.GET('/api/v1/sales/day', { params: { query: { on, place } } })),
  });
export const correctionsQuery = queryOptions({
  queryKey: [...keys.sales, 'corrections'],
  queryFn: () => answer(client.GET('/api/v1/sales/corrections')),
});
/** What names of tills are taken to mean. */
export const soldNamesQuery = queryOptions({
  queryKey: [...keys.sales, 'names'],
  queryFn: () => answer(client.GET('/api/v1/sales/names')),
});
export const tillsQuery = queryOptions({
  queryKey: [...keys.sales, 'tills'],
  queryFn: () => answer(client.GET('/api/v1/sales/tills')),
});
/** What days to come will bring. It takes seconds where nobody asked since something changed. */
export const forecastQuery = (ahead: number) =>
  queryOptions({
    queryKey: [...keys.plan, 'forecast', ahead],
    queryFn: ({ signal }) => answer(client.GET('/api/v1/plan/forecast', { params: { query: { ahead } }, signal })),
    placeholderData: keepPreviousData,
  });
/** What days to come need. */
export const planNeedsQuery = (ahead: number) =>
  queryOptions({
    queryKey: [...keys.plan, 'needs', ahead],
    queryFn: ({ signal }) => answer(client.GET('/api/v1/plan/needs', { params: { query: { ahead } }, signal })),
    placeholderData: keepPreviousData,
  });
/** A plan for the next days with what was decided before it is made. It is worked out once and stays until something is decided otherwise. */
export const weekQuery = (pins: PlanPin[]) =>
  queryOptions({
    queryKey: [...keys.plan, 'week', pins],
    queryFn: ({ signal }) => answer(client.POST('/api/v1/plan/week', { body: { pins }, signal })),
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    retry: false,
  });
/** What bottles lost beside what was served. */
export const overPoursQuery = queryOptions({
  queryKey: [...keys.plan, 'over-pours'],
  queryFn: () => answer(client.GET('/api/v1/plan/over-pours')),
});
/** Every ingredient that is used or has a price. */
export const pricesQuery = queryOptions({
  queryKey: [...keys.money, 'prices'],
  queryFn: () => answer(client.GET('/api/v1/money/prices')),
});
/** What prices have changed since versions were kept. */
export const priceChangesQuery = queryOptions({
  queryKey: [...keys.money, 'changes'],
  queryFn: () => answer(client.GET('/api/v1/money/changes')),
});
/** Benchmarks by name, the first fifty. */
export const benchmarksQuery = queryOptions({
  queryKey: [...keys.benchmarkLists, 'first'],
  queryFn: () => answer(client.GET('/api/v1/benchmarks', { params: { query: {} } })),
});
/** Doses of everything that is served. */
export const dosesQuery = queryOptions({
  queryKey: [...keys.drinks, 'doses'],
  queryFn: () => answer(client.GET('/api/v1/drinks/doses')),
});
/** The drinks that a formula goes into, with how much of it in each size. */
export const drinksUsingQuery = (formula: string) =>
  queryOptions({
    queryKey: [...keys.drinks, 'using', formula],
    queryFn: () =>
      answer(client.GET('/api/v1/drinks/using/{formula_id}', { params: { path: { formula_id: formula } } })),
  });
/** A drink with its draft. */
export const drinkQuery = (id: string) =>
  queryOptions({
    queryKey: keys.drink(id),
    queryFn: () => answer(client.GET('/api/v1/drinks/{drink_id}', { params: { path: { drink_id: id } } })),
  });
/** A drink's versions, newest first. */
export const drinkVersionPagesQuery = (id: string) =>
  infiniteQueryOptions({
    queryKey: keys.drinkVersions(id),
    queryFn: ({ pageParam }) =>
      answer(
        client.GET('/api/v1/drinks/{drink_id}/versions', {
          params: { path: { drink_id: id }, query: { cursor: pageParam } },
        }),
      ),
    initialPageParam: '',
    getNextPageParam: (page) => page.next ?? undefined,
  });
/** Where bottles may stand. */
export const placesQuery = queryOptions({
  queryKey: ['places'],
  queryFn: () => answer(client.GET('/api/v1/places')),
});
/** What is on hand, and what must go. */
export const stockQuery = queryOptions({
  queryKey: keys.stock,
  queryFn: () => answer(client.GET('/api/v1/stock')),
  refetchInterval: 30_000,
});
/** The bottles of a formula, the first to use first; or what a step of it left beside. */
export const containersQuery = (formula: string, stage: string) =>
  queryOptions({
    queryKey: [...keys.stock, 'of', formula, stage],
    queryFn: () => answer(client.GET('/api/v1/stock/containers', { params: { query: { formula, stage } } })),
  });
/** The bottles of a batch. */
export const batchContainersQuery = (batch: string) =>
  queryOptions({
    queryKey: [...keys.stock, 'batch', batch],
    queryFn: () => answer(client.GET('/api/v1/stock/containers', { params: { query: { batch } } })),
  });
/** What stands at a place, the first to use first. */
export const atPlaceQuery = (place: number) =>
  queryOptions({
    queryKey: [...keys.stock, 'at', place],
    queryFn: () => answer(client.GET('/api/v1/stock/containers', { params: { query: { place } } })),
  });
/** From a lot to every bottle it is in or may be in. */
export const recallQuery = (ingredient: string, lot: string) =>
  queryOptions({
    queryKey: [...keys.stock, 'recall', ingredient, lot],
    queryFn: () => answer(client.GET('/api/v1/stock/recall', { params: { query: { ingredient, lot } } })),
    retry: false,
  });
/** Back from a bottle to every lot that is in it. */
export const originQuery = (id: string) =>
  queryOptions({
    queryKey: [...keys.stock, 'origin', id],
    queryFn: () =>
      answer(client.GET('/api/v1/stock/containers/{container_id}/origin', { params: { path: { container_id: id } } })),
  });
/** By line of a batch, the lots that may be what stands open. */
export const openLotsQuery = (batch: string) =>
  queryOptions({
    queryKey: [...keys.stock, 'lots', batch],
    queryFn: () =>
      answer(client.GET('/api/v1/stock/batches/{batch_id}/lots', { params: { path: { batch_id: batch } } })),
    staleTime: 60_000,
    retry: false,
  });
/** Who signs in as a bar, and where each stands. */
export const barsQuery = queryOptions({
  queryKey: ['places', 'bars'],
  queryFn: () => answer(client.GET('/api/v1/places/bars')),
});
/** One bottle with all that was entered about it. */
export const containerQuery = (id: string) =>
  queryOptions({
    queryKey: [...keys.stock, 'one', id],
    queryFn: () =>
      answer(client.GET('/api/v1/stock/containers/{container_id}', { params: { path: { container_id: id } } })),
  });
/** A page of ingredients whose names begin as typed. */
export const findQuery = (q: string, kind = '') =>
  queryOptions({
    queryKey: [...keys.substances, 'find', q, kind],
    queryFn: ({ signal }) => answer(client.GET('/api/v1/substances', { params: { query: { q, kind } }, signal })),
    placeholderData: keepPreviousData,
  });
/** “2 tsp blossom water” parted into what it names and how much of it. */
export const typedQuery = (text: string) =>
  queryOptions({
    queryKey: [...keys.substances, 'typed', text],
    queryFn: ({ signal }) => answer(client.GET('/api/v1/substances/typed', { params: { query: { text } }, signal })),
    placeholderData: keepPreviousData,
  });
export const calculatorsQuery = queryOptions({
  queryKey: ['calculators'],
  queryFn: () => answer(client.GET('/api/v1/calculators')),
  staleTime: Infinity,
});
/** What a calculator makes of what stands in its fields. */
export const calculatorQuery = (id: string, values: Record<string, string>, typed: string) =>
  queryOptions({
    queryKey: ['calculators', id, values, typed],
    queryFn: ({ signal }) =>
      answer(
        client.POST('/api/v1/calculators/{calculator_id}', {
          params: { path: { calculator_id: id } },
          body: { values, typed },
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
    retry: false,
  });
/** What the ingredients of a document are called. */
export const titlesQuery = (ids: string[]) => {
  const asked = [...new Set(ids)].sort().join(',');
  return queryOptions({
    queryKey: [...keys.substances, 'titles', asked],
    queryFn: () => answer(client.GET('/api/v1/substances/titles', { params: { query: { ids: asked } } })),
    enabled: asked !== '',
    placeholderData: keepPreviousData,
  });
};
/** One ingredient with everything known of it. */
export const substanceQuery = (id: string) =>
  queryOptions({
    queryKey: keys.substance(id),
    queryFn: () => answer(client.GET('/api/v1/substances/{key}', { params: { path: { key: id } } })),
  });
export const startersQuery = queryOptions({
  queryKey: keys.starters,
  queryFn: () => answer(client.GET('/api/v1/formulas/starters')),
  staleTime: Infinity,
});
/** Which formulas are asked for; nothing asks for all. */
export interface FormulasQuery {
  q?: string;
  troubled?: boolean;
  ids?: string[];
  family?: string;
  state?: '' | 'draft' | 'ready' | 'on_hob';
}
/** A page of formulas, lately touched first. */
export const formulasQuery = (ask: FormulasQuery = {}) =>
  queryOptions({
    queryKey: [...keys.formulaLists, ask],
    queryFn: ({ signal }) => answer(client.GET('/api/v1/formulas', { params: { query: ask }, signal })),
    placeholderData: keepPreviousData,
  });
/** The same, page after page. */
export const formulaPagesQuery = (ask: FormulasQuery = {}) =>
  infiniteQueryOptions({
    queryKey: [...keys.formulaLists, 'pages', ask],
    queryFn: ({ pageParam, signal }) =>
      answer(client.GET('/api/v1/formulas', { params: { query: { ...ask, cursor: pageParam } }, signal })),
    initialPageParam: '',
    getNextPageParam: (last) => last.next,
    placeholderData: keepPreviousData,
  });
export const formulaQuery = (id: string) =>
  queryOptions({
    queryKey: keys.formula(id),
    queryFn: () => answer(client.GET('/api/v1/formulas/{formula_id}', { params: { path: { formula_id: id } } })),
    // A draft under edit is not replaced under the person's hands; a save conflict says when it changed.
    staleTime: Infinity,
    gcTime: 0,
  });
export const versionsQuery = (id: string) =>
  queryOptions({
    queryKey: keys.versions(id),
    queryFn: () =>
      answer(client.GET('/api/v1/formulas/{formula_id}/versions', { params: { path: { formula_id: id } } })),
  });
/** The same, page after page. */
export const versionPagesQuery = (id: string) =>
  infiniteQueryOptions({
    queryKey: [...keys.versions(id), 'pages'],
    queryFn: ({ pageParam }) =>
      answer(
        client.GET('/api/v1/formulas/{formula_id}/versions', {
          params: { path: { formula_id: id }, query: { cursor: pageParam } },
        }),
      ),
    initialPageParam: '',
    getNextPageParam: (last) => last.next,
  });
/** Benchmarks by name, page after page. */
export const benchmarkPagesQuery = (q: string) =>
  infiniteQueryOptions({
    queryKey: [...keys.benchmarkLists, q],
    queryFn: ({ pageParam, signal }) =>
      answer(client.GET('/api/v1/benchmarks', { params: { query: { q, cursor: pageParam } }, signal })),
    initialPageParam: '',
    getNextPageParam: (last) => last.next,
    placeholderData: keepPreviousData,
  });
export const benchmarkQuery = (id: string) =>
  queryOptions({
    queryKey: keys.benchmark(id),
    queryFn: () => answer(client.GET('/api/v1/benchmarks/{benchmark_id}', { params: { path: { benchmark_id: id } } })),
    // What is being typed over is not replaced under the person's hands; saving says when it changed.
    staleTime: Infinity,
    gcTime: 0,
  });
/** What stands on a tasting sheet. */
export const attributesQuery = queryOptions({
  queryKey: ['tasting attributes'],
  queryFn: () => answer(client.GET('/api/v1/benchmarks/attributes')),
  staleTime: Infinity,
});
export const versionQuery = (id: string, number: number) =>
  queryOptions({
    queryKey: [...keys.versions(id), number],
    queryFn: () =>
      answer(
        client.GET('/api/v1/formulas/{formula_id}/versions/{number}', { params: { path: { formula_id: id, number } } }),
      ),
    // A version never changes.
    staleTime: Infinity,
  });
/** Which batches are asked for; nothing asks for all. */
export interface BatchesQuery {
  q?: string;
  status?: '' | 'running' | 'ended' | 'finished' | 'stopped';
  kind?: 'real' | 'practice';
  off_plan?: boolean;
  cooling?: boolean;
  since?: string;
}
/** A page of batches, the newest first. */
export const batchesQuery = (ask: BatchesQuery = {}) =>
  queryOptions({
    queryKey: [...keys.batchLists, ask],
    queryFn: async () => (await answer(client.GET('/api/v1/batches', { params: { query: ask } }))).items,
    placeholderData: keepPreviousData,
  });
/** The same, page after page. */
export const batchPagesQuery = (ask: BatchesQuery = {}) =>
  infiniteQueryOptions({
    queryKey: [...keys.batchLists, 'pages', ask],
    queryFn: ({ pageParam }) =>
      answer(client.GET('/api/v1/batches', { params: { query: { ...ask, cursor: pageParam } } })),
    initialPageParam: '',
    getNextPageParam: (last) => last.next,
    placeholderData: keepPreviousData,
  });
/** Everybody who signs in here, page after page. */
export const everybodyQuery = infiniteQueryOptions({
  queryKey: keys.everybody,
  queryFn: ({ pageParam }) => answer(client.GET('/api/v1/people', { params: { query: { cursor: pageParam } } })),
  initialPageParam: '',
  getNextPageParam: (last) => last.next,
});
/** Where people are signed in, page after page. */
export const signedInQuery = infiniteQueryOptions({
  queryKey: keys.signedIn,
  queryFn: ({ pageParam }) => answer(client.GET('/api/v1/session/all', { params: { query: { cursor: pageParam } } })),
  initialPageParam: '',
  getNextPageParam: (last) => last.next,
});
/** Who changed what, page after page. */
export const changesQuery = infiniteQueryOptions({
  queryKey: keys.changes,
  queryFn: ({ pageParam }) => answer(client.GET('/api/v1/changes', { params: { query: { cursor: pageParam } } })),
  initialPageParam: '',
  getNextPageParam: (last) => last.next,
});
