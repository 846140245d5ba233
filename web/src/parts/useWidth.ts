import { useElementSize } from '@mantine/hooks';

/** A ref and the measured width of its element; `fallback` until it is measured. */
export function useWidth(fallback: number) {
  const { ref, width } = useElementSize<HTMLDivElement>();
  return { ref, width: width > 0 ? width : fallback };
}
