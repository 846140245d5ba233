import { Button } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { batchContainersQuery } from '../../api/queries';
import type { BatchOut, PlanRow, SheetReport, What } from '../../api/types';
import { useMay } from '../../app/person';
import { figure, when } from '../../lib/format';
import { Notice } from '../../parts/Notice';
import { PRACTISED } from '../batches/standing';
import { StartDialog } from '../batches/StartDialog';
import { FreezerDrawer } from '../bottles/FreezerDrawer';
import { BatchKeeping } from './BatchKeeping';
import { CoolingPanel } from './CoolingPanel';
import type { Ask } from './ask';
import { EntryDialog } from './EntryDialog';
import classes from './hob.module.css';
import { LabelForm } from './LabelForm';
import { NoteDialog } from './NoteDialog';

interface EndedProps {
  batch: BatchOut;
  sheet: SheetReport;
  now: number;
  /** Whether every entry is used instead: until then there is no yield to speak of. */
  reckoned: boolean;
  enter: (what: What) => void;
}

/** A batch at its end: what came of it, against what was planned, and what is handed out of it. */
export function Ended({ batch, sheet, now, reckoned, enter }: EndedProps) {
  const mayCook = useMay('cook');
  const [again, setAgain] = useState(false);
  const [waste, setWaste] = useState(false);
  const [ask, setAsk] = useState<Ask | null>(null);
  const [freezer, setFreezer] = useState(false);
  const practised = batch.kind === 'practice';
  // Each bottle has days of its own: where they are known, the freezer is a matter of theirs.
  const found = useQuery({ ...batchContainersQuery(batch.id), enabled: sheet.status === 'finished' && !practised });
  const bottles = (found.data?.items ?? []).filter((each) => !each.gone);
  const inFreezer = sheet.frozen?.some((span) => span.until === null) ?? false;
  const starchy = batch.report.walk.readings.some((reading) => reading.id === 'cooked_starch');
  const reason = [...sheet.log].reverse().find((line) => line.kind === 'closed' && !line.undone)?.words;
  return (
    <>
      <h2 className={classes.title}>
        {sheet.status === 'finished' ? 'Finished' : `Stopped${reason ? reason.replace(/^stopped/, '') : ''}`}
      </h2>
      {practised && (
        <p className={classes.caution}>
          <strong>Note: </strong>
          {PRACTISED}
        </p>
      )}
      {reckoned ? (
        <p className={classes.quiet}>
          {figure(sheet.yield_g)} g {sheet.yield_measured ? 'filled and kept' : 'calculated, not weighed'},{' '}
          {figure(sheet.planned_yield_g)} g planned
          {sheet.waste_g > 0 && ` · ${figure(sheet.waste_g)} g thrown away`}
        </p>
      ) : (
        <p className={classes.quiet} role="status">
          The result is calculated once the last entries have reached the server.
        </p>
      )}
      {sheet.steps.map(
        (step) => step.fill?.impossible && <Notice key={step.id} tone="stop" text={step.fill.impossible} />,
      )}
      {mayCook && (
        <div className={classes.buttons}>
          {sheet.status === 'stopped' && <Button onClick={() => setAgain(true)}>Start again</Button>}
          <Button variant="default" onClick={() => setWaste(true)}>
            Record waste
          </Button>
          {sheet.status === 'finished' && bottles.length > 0 && !inFreezer && (
            <Button variant="default" onClick={() => setFreezer(true)}>
              Into or out of the freezer
            </Button>
          )}
          {sheet.status === 'finished' && !practised && (inFreezer || (!found.isPending && bottles.length === 0)) && (
            <Button
              variant="default"
              onClick={() => enter(inFreezer ? { kind: 'thawed' } : { kind: 'frozen', how: '' })}
            >
              {inFreezer ? 'Out of the freezer, to thaw' : 'Into the freezer'}
            </Button>
          )}
          {starchy && (
            <>
              <Button variant="default" onClick={() => setAsk(funnel(enter))}>
                Time it through the funnel
              </Button>
              <Button variant="default" onClick={() => enter({ kind: 'flowed', seconds: 0, stuck: true })}>
                It does not run, cold
              </Button>
            </>
          )}
        </div>
      )}
      {sheet.frozen?.length > 0 && (
        <p className={classes.quiet}>
          {sheet.frozen
            .map((span) => `Frozen ${when(span.since)}${span.until ? `, thawed ${when(span.until)}` : ''}`)
            .join(' · ')}
          . {batch.use_by ? '' : `Use by: ${batch.use_by_words}.`}
        </p>
      )}
      {sheet.cooling && sheet.status === 'finished' && (
        <CoolingPanel batch={batch.id} log={sheet.cooling} now={now} mayEnter={mayCook} enter={enter} ask={setAsk} />
      )}
      <FreezerDrawer opened={freezer} containers={bottles} onClose={() => setFreezer(false)} />
      <EntryDialog ask={ask} batch={batch.id} onClose={() => setAsk(null)} />
      <NoteDialog
        opened={waste}
        batch={batch.id}
        there={{ grams: sheet.there_g, most: sheet.there_most_g }}
        stage={null}
        begin="wasted"
        enter={enter}
        onClose={() => setWaste(false)}
      />
      <StartDialog opened={again} formula={batch.formula} practice={practised} onClose={() => setAgain(false)} />
      <PlanAgainstActual sheet={sheet} />
      {sheet.status === 'finished' && (
        <BatchKeeping keeping={batch.report.walk.keeping} mayEnter={mayCook} enter={enter} />
      )}
      {sheet.status === 'finished' && !practised && (
        <LabelForm
          id={batch.id}
          keeping={batch.report.walk.keeping}
          useBy={batch.use_by}
          instead={batch.use_by_words}
          why={batch.use_by_why}
          allergens={batch.allergens ?? []}
          enter={enter}
          filled={sheet.steps.reduce((sum, step) => sum + (step.fill?.filled ?? 0), 0)}
        />
      )}
      <div className={classes.buttons}>
        <Button variant="default" component="a" href={`/api/v1/batches/${batch.id}/run-sheet.pdf`} download>
          Run sheet, PDF
        </Button>
        <Button variant="default" component="a" href={`/api/v1/batches/${batch.id}/log.csv`} download>
          Log, CSV
        </Button>
        <Button variant="default" component="a" href={`/api/v1/batches/${batch.id}/batch.json`} download>
          Batch, JSON
        </Button>
      </div>
    </>
  );
}

/** Seconds through the shop's funnel the day after: what starch does overnight is only seen then. */
function funnel(enter: (what: What) => void): Ask {
  return {
    title: 'Through the funnel, cold',
    label: 'Seconds until it has run through',
    unit: 's',
    hint: 'The day after, out of the fridge, always the same funnel filled to the same line.',
    keep: (value) => `Save ${figure(value)} s`,
    least: 1,
    most: 3600,
    onKeep: (value) => enter({ kind: 'flowed', seconds: value, stuck: false }),
  };
}

const HOW: Record<PlanRow['how'], string> = {
  measured: '',
  as_asked: 'as asked, not weighed',
  computed: 'calculated',
  not_reached: 'not reached',
  unknown: 'nobody said',
};

/** The plan as it was frozen, what was changed on purpose, and what happened. */
function PlanAgainstActual({ sheet }: { sheet: SheetReport }) {
  const changed = sheet.plan.some((row) => row.purposed != null);
  const off_ = new Set(sheet.deviations.filter((each) => each.beyond).map((each) => each.id));
  return (
    <section className={classes.panel} aria-label="Plan against actual">
      <h2>Plan against actual</h2>
      <table className={classes.table}>
        <thead>
          <tr>
            <th scope="col">
              <span className={classes.hidden}>What</span>
            </th>
            <th scope="col">planned</th>
            {changed && <th scope="col">changed on purpose to</th>}
            <th scope="col">actual</th>
            <th scope="col">off by</th>
          </tr>
        </thead>
        <tbody>
          {sheet.plan.map((row) => {
            const aim = row.purposed ?? row.planned;
            const unit = row.unit ? ` ${row.unit}` : '';
            const shown = (value: number | null | undefined) =>
              value == null ? '—' : `${figure(value, row.digits)}${unit}`;
            return (
              <tr key={row.id} data-off={off_.has(row.id) || undefined}>
                <th scope="row">{row.title}</th>
                <td>{shown(row.planned)}</td>
                {changed && <td>{row.purposed == null ? '' : shown(row.purposed)}</td>}
                <td>
                  {row.how === 'measured' || row.how === 'computed' ? shown(row.actual) : HOW[row.how]}
                  {row.how === 'computed' && <span className={classes.small}>{HOW.computed}</span>}
                </td>
                <td>
                  {row.actual != null &&
                    aim != null &&
                    row.how !== 'as_asked' &&
                    off(atDigits(row.actual, row.digits) - atDigits(aim, row.digits), row.digits, row.unit)}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </section>
  );
}

/** A figure as it is shown, so that what stands in a row can be checked in the head. */
const atDigits = (value: number, digits: number) => Number(value.toFixed(digits));

/** “+ 12 g”, nothing where what is shown does not differ. */
function off(by: number, digits: number, unit: string): string {
  if (Math.abs(by) < 0.5 * 10 ** -digits) return '';
  return `${by > 0 ? '+' : '−'} ${figure(Math.abs(by), digits)} ${unit}`;
}
