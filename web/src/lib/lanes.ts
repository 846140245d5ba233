export interface Placed<T> {
  item: T;
  left: number;
  lane: number;
}

/**
 * Puts labels of known width on as few lanes as keep them apart, in order of position.
 * `at` is the wanted centre; a label is pushed inside 0 to `width`.
 */
export function placeInLanes<T>(
  items: T[],
  at: (item: T) => number,
  size: (item: T) => number,
  width: number,
  gap = 10,
): Placed<T>[] {
  const ends: number[] = [];
  return [...items]
    .sort((a, b) => at(a) - at(b))
    .map((item) => {
      const wide = size(item);
      const left = Math.max(0, Math.min(at(item) - wide / 2, width - wide));
      let lane = ends.findIndex((end) => end + gap <= left);
      if (lane < 0) lane = ends.length;
      ends[lane] = left + wide;
      return { item, left, lane };
    });
}
