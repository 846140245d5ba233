import { describe, expect, it } from 'vitest';
import type { BatchReport, Deviation, SheetReport } from '../../api/types';
import { offPlan } from './offPlan';

const off = (id: string, look: Deviation['look']): Deviation => ({
  id,
  title: id,
  unit: 'g',
  digits: 0,
  planned: 1,
  actual: 2,
  beyond: look !== 'near',
  reading: null,
  dealt: null,
  look,
});
const sheet = {
  deviations: [
    off('brix', 'first'),
    off('yield_g', 'besides'),
    off('line:a', 'first'),
    off('fat', 'near'),
    off('line:b', 'dealt'),
  ],
} as unknown as SheetReport;

describe('what is off plan', () => {
  it('stands as the sheet sorts it, doubts counted with what to look at', () => {
    const found = offPlan(sheet, [{}] as unknown as BatchReport['measurement_checks']);
    expect([found.first, found.besides, found.dealt, found.near].map((each) => each.map(({ id }) => id))).toEqual([
      ['brix', 'line:a'],
      ['yield_g'],
      ['line:b'],
      ['fat'],
    ]);
    expect(found.count).toBe(3);
  });
});
