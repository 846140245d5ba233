import type { BatchReport, Deviation, SheetReport } from '../../api/types';

export interface OffPlan {
  /** What to look at first: lines that were weighed off, and of the readings the one that decides. */
  first: Deviation[];
  /** Readings that are off as well; they mostly come right with the first. */
  besides: Deviation[];
  /** What was said to already. */
  dealt: Deviation[];
  near: Deviation[];
  /** How many things there are to look at, doubts among them. */
  count: number;
}

/** What is off plan, in the order in which it is worth looking at. One pot boiled too far is one thing, not four readings. */
export function offPlan(sheet: SheetReport, doubts: BatchReport['doubts']): OffPlan {
  const open = sheet.deviations.filter((each) => each.beyond && !each.dealt);
  const lines = open.filter((each) => each.reading === null);
  const readings = open.filter((each) => each.reading !== null);
  const first = [...lines, ...readings.slice(0, 1)];
  return {
    first,
    besides: readings.slice(1),
    dealt: sheet.deviations.filter((each) => each.beyond && each.dealt),
    near: sheet.deviations.filter((each) => !each.beyond),
    count: first.length + doubts.length,
  };
}
