import { TextInput } from '@mantine/core';

interface FromToProps {
  first: string;
  last: string;
  /** What is wrong with the last day. */
  error?: string | undefined;
  onPut: (days: { first: string; last: string }) => void;
}

/** The first and the last of some days; the last goes along where the first passes it. */
export function FromTo({ first, last, error, onPut }: FromToProps) {
  return (
    <>
      <TextInput
        type="date"
        label="From"
        size="md"
        value={first}
        onChange={(event) => {
          const next = event.currentTarget.value;
          onPut({ first: next, last: last < next ? next : last });
        }}
      />
      <TextInput
        type="date"
        label="To"
        size="md"
        value={last}
        error={error}
        onChange={(event) => onPut({ first, last: event.currentTarget.value })}
      />
    </>
  );
}
