import { useDebouncedValue } from '@mantine/hooks';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, client } from '../../api/client';
import type { DrinkDocument, DrinkSizes } from '../../api/types';

const PAUSE_MS = 120;

/** Walks a drink over its sizes as it is typed; the last good answer stays while a newer one is on its way or refused. */
export function useSizes(document: DrinkDocument) {
  const [asked] = useDebouncedValue(document, PAUSE_MS);
  const found = useQuery({
    queryKey: ['drink sizes', asked],
    queryFn: ({ signal }) => answer(client.POST('/api/v1/drinks/sizes', { body: asked, signal })),
    enabled: asked.components.length > 0,
    retry: false,
    gcTime: 0,
    placeholderData: keepPreviousData,
  });
  // A refusal leaves the last good answer where it is.
  const [last, setLast] = useState<DrinkSizes | null>(null);
  if (found.data && found.data !== last) setLast(found.data);
  const stale = asked !== document || found.isPlaceholderData || found.isFetching;
  return {
    report: document.components.length > 0 ? (found.data ?? last) : null,
    problem: found.error,
    stale,
  };
}

/** Doses that bring the sugars to one value in every size; asked for where something is dosed. */
export function useEvenOut(document: DrinkDocument, component: string | null) {
  const [asked] = useDebouncedValue(document, 2 * PAUSE_MS);
  return useQuery({
    queryKey: ['drink evened out', asked, component],
    queryFn: ({ signal }) =>
      answer(
        client.POST('/api/v1/drinks/even-out', {
          body: { document: asked, ask: { component: component!, reading: 'sugars_100ml' } },
          signal,
        }),
      ),
    enabled: component !== null && asked.components.some((each) => each.id === component),
    retry: false,
    gcTime: 0,
  });
}
