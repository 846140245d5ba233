import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { batchesQuery } from '../../api/queries';
import type { BatchCard } from '../../api/types';
import { countdown } from '../../lib/format';
import { standing } from '../batches/standing';
import { useBatchesLive } from '../batches/useBatchesLive';
import classes from './hob.module.css';

/** The other batches that are cooked now, what is due first in front. */
export function useOtherPots(here: string): BatchCard[] {
  const running = useQuery({ ...batchesQuery({ status: 'running' }), retry: false });
  useBatchesLive();
  return (running.data ?? []).filter((batch) => batch.id !== here).sort((a, b) => firstDue(a) - firstDue(b));
}

/** The other pots: where each stands, when it is ready, what must be done about it soon; and their timers. */
export function OtherPots({ pots, now }: { pots: BatchCard[]; now: number }) {
  if (pots.length === 0) return null;
  return (
    <section aria-label="The other pots" className={classes.row}>
      {pots.map((batch) => (
        <OtherPot key={batch.id} batch={batch} now={now} />
      ))}
    </section>
  );
}

/** When something must be done about a pot first: a timer, a weighing. Those with neither come last. */
function firstDue(batch: BatchCard): number {
  const times = [...batch.timers.map((timer) => timer.due_at), batch.lift_weigh_at].filter(
    (at) => at !== null && at !== undefined,
  );
  return Math.min(Number.MAX_SAFE_INTEGER, ...times.map((at) => Date.parse(at)));
}

function OtherPot({ batch, now }: { batch: BatchCard; now: number }) {
  const due = batch.timers.filter((timer) => Date.parse(timer.due_at) <= now);
  const lift =
    batch.lift_weigh_at !== null && batch.lift_weigh_at !== undefined && Date.parse(batch.lift_weigh_at) <= now;
  return (
    <Link
      to={`/batches/${batch.id}`}
      className={classes.other}
      data-over={due.length > 0 || undefined}
      data-look={lift || undefined}
    >
      <span>
        <strong>{batch.name}</strong>
        <span className={classes.small}>{[batch.step ?? 'all steps done', ...standing(batch)].join(' · ')}</span>
        {lift && <span className={classes.small}>Look: it may be near, weigh the pot</span>}
        {batch.questions > 0 && (
          <span className={classes.small}>
            Look: {batch.questions === 1 ? 'a question' : `${batch.questions} questions`}
          </span>
        )}
      </span>
      {batch.timers.map((timer) => {
        const left = Date.parse(timer.due_at) - now;
        return (
          <span
            key={timer.timer}
            role="timer"
            aria-label={`${timer.title}, ${batch.name}`}
            className={classes.otherTimer}
          >
            <span className={classes.small}>
              {timer.title}
              {left < 0 && ': time is up'}
            </span>
            <strong>{countdown(left)}</strong>
          </span>
        );
      })}
    </Link>
  );
}
