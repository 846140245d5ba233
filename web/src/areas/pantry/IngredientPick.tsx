import { Select } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { findQuery } from '../../api/queries';
import type { Hit } from '../../api/types';

interface IngredientPickProps {
  label: string;
  /** What it is called where no label stands above it. */
  named?: string;
  /** The ingredient chosen so far, and what it is called. */
  value: string | null;
  title?: string | undefined;
  size?: 'xs' | 'sm' | 'md';
  /** Inside a popover the list must stay in it. @default true */
  withinPortal?: boolean;
  onChoose: (hit: Hit) => void;
}

/** One ingredient of the pantry, found by the first letters of its names. */
export function IngredientPick({
  label,
  named,
  value,
  title,
  size = 'sm',
  withinPortal = true,
  onChoose,
}: IngredientPickProps) {
  // Until something is typed it shows what is chosen, whenever that is known.
  const [typed, setTyped] = useState<string | null>(null);
  const words = typed ?? title ?? '';
  const [asked] = useDebouncedValue(words.trim(), 60);
  // What stands in the field already is no search: the list begins with everything.
  const found = useQuery(findQuery(asked === (title ?? '') ? '' : asked));
  const hits = found.data?.hits ?? [];
  const shown = value && title && !hits.some((hit) => hit.id === value) ? [{ value, label: title }] : [];
  return (
    <Select
      size={size}
      label={label || undefined}
      aria-label={label ? undefined : named}
      placeholder="Search the pantry"
      searchable
      allowDeselect={false}
      comboboxProps={{ withinPortal }}
      data={[
        ...shown,
        ...hits.map((hit) => ({ value: hit.id, label: hit.kind === 'made' ? `${hit.title}, made here` : hit.title })),
      ]}
      filter={({ options }) => options}
      searchValue={words}
      onSearchChange={(now) => setTyped(now === title ? null : now)}
      // A text that was not chosen from names nothing: what is chosen stands there again.
      onBlur={() => setTyped(null)}
      value={value}
      onChange={(id) => {
        const hit = hits.find((each) => each.id === id);
        if (!hit) return;
        setTyped(null);
        onChoose(hit);
      }}
      nothingFoundMessage={
        found.isFetching ? 'Looking …' : found.isError ? found.error.message : 'The pantry has nothing of that name.'
      }
      maxDropdownHeight={240}
    />
  );
}
