import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { batchesQuery } from '../../api/queries';
import { useMay } from '../../app/person';
import { useNow } from '../../lib/useNow';
import { Notice } from '../../parts/Notice';
import { useBatchesLive } from '../batches/useBatchesLive';
import { Bell } from './Bell';
import classes from './hob.module.css';

/** What was forgotten long ago does not ring any more. */
const LONG_AGO_MS = 600_000;

/** Timers of every pot ring on every screen, for whoever cooks: a batch is not only heard at its own page. */
export function RingEverywhere() {
  return useMay('cook') ? <Ringing /> : null;
}

function Ringing() {
  const now = useNow();
  const running = useQuery({ ...batchesQuery({ status: 'running' }), retry: false });
  useBatchesLive();
  const over = (running.data ?? []).flatMap((batch) =>
    batch.timers
      .filter((timer) => now >= Date.parse(timer.due_at) && now - Date.parse(timer.due_at) < LONG_AGO_MS)
      .map((timer) => ({ timer, batch })),
  );
  if (over.length === 0) return null;
  return (
    <section aria-label="Timers that are over" className={classes.ringing}>
      {over.map(({ timer, batch }) => (
        <Notice key={timer.timer} tone="look" text={`${timer.title}: time is up.`}>
          <Link to={`/batches/${batch.id}`}>To {batch.name}</Link>
        </Notice>
      ))}
      <Bell due={over.map(({ timer }) => timer.timer)} look={[]} />
    </section>
  );
}
