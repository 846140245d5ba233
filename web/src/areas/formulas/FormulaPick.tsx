import { Select, type SelectProps } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { formulasQuery } from '../../api/queries';

interface FormulaPickProps extends Omit<
  SelectProps,
  'data' | 'value' | 'onChange' | 'searchable' | 'searchValue' | 'onSearchChange' | 'filter'
> {
  value: string | null;
  onPick: (id: string | null, name: string) => void;
}

/** Chooses a formula by some letters of its name; the lately touched ones are offered first. */
export function FormulaPick({ value, onPick, ...rest }: FormulaPickProps) {
  const [typed, setTyped] = useState('');
  const chosen = useQuery({ ...formulasQuery({ ids: [value ?? ''] }), enabled: value !== null });
  const name = value === null ? undefined : chosen.data?.items[0]?.name;
  // What stands in the field once one is chosen is its name, and asks for nothing.
  const [q] = useDebouncedValue(typed === name ? '' : typed.trim(), 200);
  const found = useQuery(formulasQuery(q ? { q } : {}));
  const cards = found.data?.items ?? [];
  const data = cards.map((card) => ({ value: card.id, label: card.name }));
  if (value !== null && name !== undefined && !cards.some((card) => card.id === value))
    data.unshift({ value, label: name });
  return (
    <Select
      searchable
      data={data}
      value={value}
      searchValue={typed}
      onSearchChange={setTyped}
      filter={({ options }) => options}
      nothingFoundMessage={
        found.isFetching ? 'Looking …' : found.isError ? found.error.message : 'No formula has that in its name.'
      }
      onChange={(id, option) => onPick(id, option?.label ?? '')}
      {...rest}
    />
  );
}
