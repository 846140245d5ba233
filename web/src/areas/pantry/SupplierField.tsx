import { Autocomplete } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { suppliersQuery } from '../../api/queries';

interface SupplierFieldProps {
  label?: string;
  'aria-label'?: string;
  size?: 'sm' | 'md';
  value: string;
  readOnly?: boolean;
  error?: string | undefined;
  onChange: (name: string) => void;
}

/** Whom something is bought from: one of those known, or a new one by its name. */
export function SupplierField({ readOnly = false, ...field }: SupplierFieldProps) {
  const known = useQuery(suppliersQuery);
  return (
    <Autocomplete
      {...field}
      readOnly={readOnly}
      data={readOnly ? [] : [...new Set((known.data ?? []).map((each) => each.name))]}
      autoComplete="off"
      maxLength={200}
      limit={8}
    />
  );
}
