import { describe, expect, it } from 'vitest';
import type { LogEvent, SheetReport, SheetStep } from '../../api/types';
import type { Waiting } from '../../outbox/shelf';
import { withWaiting } from './overlay';

const span = { low_s: 60, typical_s: 60, high_s: 60 };
const base = {
  vessel: 'Pot',
  begun_at: null,
  done_at: null,
  done_by: null,
  duration: span,
  hands: span,
  waits: false,
  cautions: [],
  faults: [],
  parallel_tasks: [],
  note: '',
  expects_g: null,
  expects_low_g: null,
  expects_high_g: null,
  gave: null,
  boil: null,
  fill: null,
  warm: null,
  brix: null,
};
const line = {
  id: 'juice',
  title: 'Juice',
  text: '430 g',
  target_g: 430,
  exact_g: 430,
  low_g: 422,
  high_g: 438,
  scale: null,
  resolution_g: 1,
  goes: 1,
  pot_reads_g: null,
  measured: null,
  within: null,
  allergens: [],
};
const boil = {
  pot_name: 'Pot',
  pot_tare_g: 1243,
  off_g: 290,
  starts_reads_g: 2900,
  stop_reads_g: 2600,
  near_low_g: 2590,
  near_high_g: 2610,
  brix_at_stop: 64,
  refractometer_at_stop: 64,
  probe_c: 101,
  probe_doubt_brix: 2,
  first_boil_c: 100,
  fits_scale: true,
  heat_up: span,
  boil: span,
  began_at: null,
  weighings: [],
  to_go_g: 290,
  brix_now: 50,
  by_weighing: false,
  observed_g_min: null,
  probe: null,
  drop: null,
  course: [{ at: '2026-03-02T06:00:00Z', low_g: 1, high_g: 2 }],
  lift_weigh_at: null,
  ready_low: null,
  ready_high: null,
};
const steps = [
  { ...base, id: 'in', kind: 'add', name: 'Juice', title: 'Weigh', state: 'now', lines: [line] },
  { ...base, id: 'boil', kind: 'boil', name: 'Boil', title: 'Boil', state: 'to_do', lines: [], boil },
] as unknown as SheetStep[];
const sheet = {
  seq: 0,
  status: 'running',
  now: 'in',
  steps,
  questions: [],
  timers: [],
  deviations: [],
  ready_low: null,
  ready_high: null,
  yield_g: 1,
  yield_measured: false,
  planned_yield_g: 1,
  waste_g: 0,
  there_g: 0,
  log: [],
} as unknown as SheetReport;

let made = 0;
function waits(what: Record<string, unknown>): Waiting {
  made += 1;
  const event = {
    id: `e${made}`,
    at: '2026-03-02T06:05:00Z',
    by: 'rafe',
    device: 'a',
    seen: 0,
    what,
  } as unknown as LogEvent;
  return { batch: 'b', event };
}

describe('what waits, laid over the sheet', () => {
  it('changes nothing where nothing waits', () => {
    expect(withWaiting(sheet, [])).toBe(sheet);
  });

  it('shows what was weighed, near enough or not, and goes on when it is done', () => {
    const found = withWaiting(sheet, [
      waits({ kind: 'weighed', line: 'juice', reads_g: 1653, tare_g: 1243, more: false }),
    ]);
    expect(found.steps[0]?.lines[0]).toMatchObject({ measured: { mass_g: 410 }, within: false });
    const more = withWaiting(found, [
      waits({ kind: 'weighed', line: 'juice', reads_g: 20, tare_g: 0, more: true }),
      waits({ kind: 'done', stage: 'in' }),
    ]);
    expect(more.steps[0]?.lines[0]).toMatchObject({ measured: { mass_g: 430 }, within: true });
    expect([more.now, more.steps.map((step) => step.state)]).toEqual(['boil', ['done', 'now']]);
  });

  it('takes a tare off a stop weight and reckons nothing else', () => {
    const found = withWaiting(sheet, [waits({ kind: 'pot_weighed', stage: 'boil', reads_g: 2650, tare_g: 1243 })]);
    expect(found.steps[1]?.boil).toMatchObject({ to_go_g: 50, brix_now: null, course: [], by_weighing: true });
  });

  it('takes back what waits, and what the sheet knows', () => {
    const weighed = waits({ kind: 'weighed', line: 'juice', reads_g: 430, tare_g: 0, more: false });
    const undone = waits({ kind: 'undone', entry: weighed.event.id });
    expect(withWaiting(sheet, [weighed, undone]).steps[0]?.lines[0]?.measured).toBeNull();
    const known = withWaiting(sheet, [weighed]);
    expect(withWaiting(known, [undone]).steps[0]?.lines[0]?.measured).toBeNull();
  });

  it('sets and turns off timers, and ends the batch', () => {
    const set = waits({ kind: 'timer', timer: 't', title: 'Tea', seconds: 180, stage: null });
    expect(withWaiting(sheet, [set]).timers).toMatchObject([{ title: 'Tea', due_at: '2026-03-02T06:08:00.000Z' }]);
    expect(withWaiting(sheet, [set, waits({ kind: 'timer_off', timer: 't' })]).timers).toEqual([]);
    const closed = withWaiting(sheet, [waits({ kind: 'closed', outcome: 'stopped', reason: 'burnt', again: false })]);
    expect([closed.status, closed.now]).toEqual(['stopped', null]);
  });
});
