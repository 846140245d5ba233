import type { LogEvent, SheetReport, SheetStep } from '../../api/types';
import { grams } from '../../lib/format';
import type { Waiting } from '../../outbox/shelf';

/**
 * The sheet with entries that the server has not reckoned with yet, as they were typed. Nothing is
 * reckoned here but a tare taken off a stop weight that was given; the rest follows once they are sent.
 */
export function withWaiting(sheet: SheetReport, waiting: Waiting[]): SheetReport {
  if (waiting.length === 0) return sheet;
  const undone = new Set(waiting.flatMap(({ event }) => (event.what.kind === 'undone' ? [event.what.entry] : [])));
  const standing = waiting
    .filter(({ event }) => !undone.has(event.id) && event.what.kind !== 'undone')
    .map((each) => each.event);
  let steps = sheet.steps.map((step) => takenBack(step, undone, sheet));
  for (const event of standing) steps = steps.map((step) => entered(step, event));
  const closed = standing.find((event) => event.what.kind === 'closed');
  const status = closed?.what.kind === 'closed' ? closed.what.outcome : sheet.status;
  const next = steps.find((step) => step.state !== 'done');
  const now = status === 'running' ? (next?.id ?? null) : null;
  return {
    ...sheet,
    status,
    now,
    aside: (sheet.aside ?? []).filter((each) => !undone.has(each.entry)),
    frozen: standing.reduce(inFreezer, sheet.frozen ?? []),
    cooling: sheet.cooling && {
      ...sheet.cooling,
      readings: [...sheet.cooling.readings, ...standing.flatMap((event) => probedIn(sheet.cooling!.stages, event))],
    },
    steps: steps.map((step) => (step.state === 'done' ? step : { ...step, state: step.id === now ? 'now' : 'to_do' })),
    timers: [
      ...sheet.timers.filter(
        (timer) => !standing.some(({ what }) => what.kind === 'timer_off' && what.timer === timer.timer),
      ),
      ...standing.flatMap((event) =>
        event.what.kind === 'timer' &&
        !standing.some(
          ({ what }) => what.kind === 'timer_off' && what.timer === (event.what as { timer: string }).timer,
        )
          ? [timerOf(event)]
          : [],
      ),
    ],
    log: [
      ...sheet.log.map((line) => ({ ...line, undone: line.undone || undone.has(line.entry) })),
      ...standing.map((event) => lineOf(event)),
    ],
  };
}

/** Times in the freezer with an entry that waits. */
function inFreezer(spans: SheetReport['frozen'], { what, at }: LogEvent): SheetReport['frozen'] {
  const inside = spans.some((span) => span.until === null);
  if (what.kind === 'frozen' && !inside) return [...spans, { since: at, until: null, how: what.how ?? '' }];
  if (what.kind === 'thawed' && inside)
    return spans.map((span) => (span.until === null ? { ...span, until: at } : span));
  return spans;
}

/** A probe's reading of a stage that is logged; whether it is in time is for the server to say. */
function probedIn(stages: string[], { what, at, by }: LogEvent) {
  return what.kind === 'probed' && stages.includes(what.stage) ? [{ at, by, temperature_c: what.temperature_c }] : [];
}

function timerOf(event: LogEvent): SheetReport['timers'][number] {
  const what = event.what as Extract<LogEvent['what'], { kind: 'timer' }>;
  return {
    timer: what.timer,
    title: what.title,
    set_at: event.at,
    due_at: new Date(Date.parse(event.at) + what.seconds * 1000).toISOString(),
    stage: what.stage ?? null,
  };
}

function lineOf(event: LogEvent): SheetReport['log'][number] {
  const what = event.what;
  const words = wordsOf(what);
  return {
    seq: Number.MAX_SAFE_INTEGER,
    entry: event.id,
    kind: what.kind,
    stage: 'stage' in what ? (what.stage ?? null) : null,
    words,
    at: event.at,
    by: event.by,
    device: event.device,
    undone: false,
    received_at: null,
    waited: false,
    sent_by: '',
    said_by: '',
    said_at: null,
    time_cannot_be: false,
    aside: '',
  };
}

/** A few words until the server has found better ones. */
function wordsOf(what: LogEvent['what']): string {
  if (what.kind === 'noted') return what.text;
  if (what.kind === 'began') return 'begun';
  if ('reads_g' in what) return `${grams(what.reads_g - what.tare_g)} g`;
  return what.kind.replaceAll('_', ' ');
}

/** A step without what was just taken back. */
function takenBack(step: SheetStep, undone: Set<string>, sheet: SheetReport): SheetStep {
  const gone = (kind: string) =>
    sheet.log.some((line) => undone.has(line.entry) && line.kind === kind && line.stage === step.id && !line.undone);
  return {
    ...step,
    state: gone('done') ? 'to_do' : step.state,
    begun_at: gone('began') ? null : step.begun_at,
    hold: step.hold && (gone('began') ? { ...step.hold, due_at: null } : step.hold),
    lines: step.lines.map((line) =>
      line.measured?.entries.some((entry) => undone.has(entry)) ? { ...line, measured: null, within: null } : line,
    ),
    gave: step.gave?.entries.some((entry) => undone.has(entry)) ? null : step.gave,
    boil: step.boil && { ...step.boil, weighings: step.boil.weighings.filter((each) => !undone.has(each.entry)) },
  };
}

function entered(step: SheetStep, event: LogEvent): SheetStep {
  const { what, at, by } = event;
  if (what.kind === 'weighed') {
    const lines = step.lines.map((line) => {
      if (line.id !== what.line) return line;
      const mass_g = (what.more ? (line.measured?.mass_g ?? 0) : 0) + what.reads_g - what.tare_g;
      return {
        ...line,
        measured: { mass_g, at, by, entries: [event.id] },
        within: mass_g >= line.low_g && mass_g <= line.high_g,
      };
    });
    return { ...step, lines };
  }
  if (!('stage' in what) || what.stage !== step.id) return step;
  switch (what.kind) {
    case 'began':
      return {
        ...step,
        begun_at: step.begun_at ?? at,
        hold: step.hold && {
          ...step.hold,
          due_at: step.hold.due_at ?? new Date(Date.parse(at) + 60_000 * step.hold.for_min).toISOString(),
        },
      };
    case 'done':
      return { ...step, state: 'done', done_at: at, done_by: by };
    case 'gave':
      return { ...step, gave: { mass_g: what.reads_g - what.tare_g, at, by, entries: [event.id] } };
    case 'probed': {
      const probe = { at, by, temperature_c: what.temperature_c };
      return {
        ...step,
        warm: step.warm && { ...step.warm, probe },
        boil: step.boil && { ...step.boil, probe },
        hold: step.hold && { ...step.hold, probe },
      };
    }
    case 'bottled':
      return {
        ...step,
        fill: step.fill
          ? {
              ...step.fill,
              filled: step.fill.filled + what.count,
              full_left: Math.max(step.fill.full_left - what.count, 0),
              filled_g: step.fill.filled_g + what.count * what.each_g,
            }
          : null,
      };
    case 'kept_aside':
      return {
        ...step,
        kept_aside: step.kept_aside && { ...step.kept_aside, kept_g: step.kept_aside.kept_g + what.mass_g },
      };
    case 'left_over':
      return {
        ...step,
        fill:
          step.fill && what.fate !== 'binned'
            ? { ...step.fill, kept_g: step.fill.kept_g + what.mass_g }
            : (step.fill ?? null),
      };
    case 'pot_weighed': {
      if (!step.boil) return step;
      const to_go_g = what.reads_g - step.boil.stop_reads_g;
      const weighing = { entry: event.id, at, by, reads_g: what.reads_g, to_go_g, brix: null };
      return {
        ...step,
        boil: {
          ...step.boil,
          weighings: [...step.boil.weighings, weighing],
          to_go_g,
          brix_now: null,
          by_weighing: true,
          course: [],
          lift_weigh_at: null,
          ready_low: null,
          ready_high: null,
        },
      };
    }
    default:
      return step;
  }
}
