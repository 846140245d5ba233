import { useMediaQuery } from '@mantine/hooks';

/** A screen that is wide and low: a tablet on its side, where two columns show what one must scroll to. */
export function useLandscape(): boolean {
  return (
    useMediaQuery('(min-width: 1000px) and (max-height: 900px)', undefined, { getInitialValueInEffect: false }) ?? false
  );
}
