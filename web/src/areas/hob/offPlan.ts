import type { BatchReport, Deviation, SheetReport } from '../../api/types';

export interface OffPlan {
  /** What to look at first. */
  first: Deviation[];
  /** What is off as well; it mostly comes right with the first. */
  besides: Deviation[];
  /** What was said to already. */
  dealt: Deviation[];
  near: Deviation[];
  /** How many things there are to look at, doubts among them. */
  count: number;
}

/** What is off plan, as the sheet sorts it. */
export function offPlan(sheet: SheetReport, measurement_checks: BatchReport['measurement_checks']): OffPlan {
  const those = (look: Deviation['look']) => sheet.deviations.filter((each) => each.look === look);
  const first = those('first');
  return {
    first,
    besides: those('besides'),
    dealt: those('dealt'),
    near: those('near'),
    count: first.length + measurement_checks.length,
  };
}
