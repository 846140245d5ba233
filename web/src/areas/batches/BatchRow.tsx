import { Link } from 'react-router';
import type { BatchCard } from '../../api/types';
import { clock, day, figure, when } from '../../lib/format';
import classes from './BatchesScreen.module.css';
import { CookAgain } from './CookAgain';
import { called, standing } from './standing';

/** What stands in its way, in words. */
function stops(batch: BatchCard): string {
  return [
    batch.trouble && `cannot be calculated: ${batch.trouble}`,
    batch.aside > 0 && (batch.aside === 1 ? '1 entry not counted' : `${batch.aside} entries not counted`),
    batch.questions > 0 && (batch.questions === 1 ? '1 question' : `${batch.questions} questions`),
  ]
    .filter(Boolean)
    .join(' · ');
}

/** A batch in a list: what it is, where it stands, what came of it. */
export function BatchRow({ batch }: { batch: BatchCard }) {
  return (
    <li className={classes.row}>
      <span>
        <Link to={`/batches/${batch.id}`} className={classes.name}>
          {batch.name}
        </Link>
        <span className={classes.small}>
          {called(batch)} · version {batch.version} · {batch.started_by}, {when(batch.started_at)}
        </span>
        {batch.words && <span className={classes.small}>{batch.words}</span>}
      </span>
      {batch.status === 'running' && (
        <span>
          {batch.step ?? 'All steps done'}
          <span className={classes.small}>
            {[`${batch.steps_done} of ${batch.steps} steps`, ...standing(batch)].join(' · ')}
          </span>
          {batch.timers.length > 0 && (
            <span className={classes.small}>
              {batch.timers.map((timer) => `${timer.title} until ${clock(timer.due_at)}`).join(' · ')}
            </span>
          )}
          <span className={classes.bar} aria-hidden="true">
            {Array.from({ length: batch.steps }, (_, i) => (
              <span key={i} data-done={i < batch.steps_done || undefined} />
            ))}
          </span>
        </span>
      )}
      <span className={classes.figures}>
        {batch.status === 'stopped' && <span className={classes.stop}>stopped · </span>}
        <strong>
          {batch.status === 'stopped' && batch.yield_g === 0 ? 'nothing kept' : `${figure(batch.yield_g)} g`}
        </strong>
        <span className={classes.small}>
          {batch.yield_measured ? 'weighed' : 'calculated'}, {figure(batch.planned_yield_g)} g planned
          {typeof batch.brix === 'number' && ` · ${figure(batch.brix, 1)} °Bx`}
        </span>
        {batch.status === 'finished' && batch.kind === 'real' && batch.use_by && (
          <span className={classes.small}>use by {day(batch.use_by)}</span>
        )}
        {stops(batch) && <span className={classes.stop}>{stops(batch)} </span>}
        {batch.waste_g > 0 && <span className={classes.small}>{figure(batch.waste_g)} g thrown away</span>}
        {batch.off_plan > 0 && <span className={classes.look}>{batch.off_plan} off plan</span>}
      </span>
      {batch.status !== 'running' && <CookAgain batch={batch} />}
    </li>
  );
}
