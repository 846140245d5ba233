import { Button } from '@mantine/core';

interface Pages {
  hasNextPage: boolean;
  isFetchingNextPage: boolean;
  fetchNextPage: () => unknown;
}

/** The press that shows the next page of a list, where there is one. */
export function ShowMore({ of, label = 'Show more' }: { of: Pages; label?: string }) {
  if (!of.hasNextPage) return null;
  return (
    <Button mt="sm" size="md" variant="default" loading={of.isFetchingNextPage} onClick={() => void of.fetchNextPage()}>
      {label}
    </Button>
  );
}
