import { SegmentedControl } from '@mantine/core';

/** How many days ahead are looked at. */
export function AheadChoice({ ahead, onAhead }: { ahead: number; onAhead: (days: number) => void }) {
  return (
    <SegmentedControl
      aria-label="How far ahead"
      size="sm"
      data={['7', '14', '28'].map((value) => ({ value, label: `${value} days` }))}
      value={String(ahead)}
      onChange={(value) => onAhead(Number(value))}
    />
  );
}
