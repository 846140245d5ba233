import { describe, expect, it } from 'vitest';
import type { BatchReport, Deviation, SheetReport } from '../../api/types';
import { offPlan } from './offPlan';

const off = (id: string, more: Partial<Deviation> = {}): Deviation => ({ id, title: id, unit: 'g', digits: 0, planned: 1, actual: 2, beyond: true, reading: id.startsWith('line:') ? null : id, dealt: null, ...more });
const sheet = (...deviations: Deviation[]) => ({ deviations }) as unknown as SheetReport;
const doubts = [{}] as unknown as BatchReport['doubts'];

describe('what is off plan', () => {
  it('is one thing where one pot was boiled too far', () => {
    const found = offPlan(sheet(off('brix'), off('yield_g'), off('spice_finished')), []);
    expect([found.first.map((each) => each.id), found.besides.map((each) => each.id), found.count]).toEqual([['brix'], ['yield_g', 'spice_finished'], 1]);
  });

  it('counts every line that was weighed off, and doubts', () => {
    expect(offPlan(sheet(off('line:a'), off('line:b'), off('brix')), doubts).count).toBe(4);
  });

  it('does not count what was said to, nor what is near enough', () => {
    const found = offPlan(sheet(off('line:a', { dealt: 'accepted' }), off('brix', { dealt: 'put_right' }), off('fat', { beyond: false })), []);
    expect([found.count, found.dealt.length, found.near.length]).toEqual([0, 2, 1]);
  });
});
