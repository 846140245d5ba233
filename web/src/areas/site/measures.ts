import type { Kitchen } from '../../api/types';

export type Measures = Kitchen['measures'];

/** Whose cups, spoons and pints. */
export const MEASURES: { value: Measures; label: string }[] = [
  { value: 'metric', label: 'Metric, cup 250 ml' },
  { value: 'us', label: 'US, cup 237 ml' },
  { value: 'imperial', label: 'Imperial, cup 284 ml' },
  { value: 'australian', label: 'Australian, spoon 20 ml' },
];
