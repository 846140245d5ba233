import { Button } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useMay } from '../../app/person';
import { batchesQuery } from '../../api/queries';
import { Card } from '../../parts/Card';
import { Notice } from '../../parts/Notice';
import { ScreenHead } from '../../parts/ScreenHead';
import { BatchRow } from './BatchRow';
import classes from './BatchesScreen.module.css';
import { StartDialog } from './StartDialog';
import { useBatchesLive } from './useBatchesLive';

/** What is on the hob, and what was cooked. */
export function BatchesScreen() {
  const found = useQuery(batchesQuery);
  const mayCook = useMay('cook');
  const [start, setStart] = useState(false);
  useBatchesLive();
  const running = (found.data ?? []).filter((batch) => batch.status === 'running');
  const ended = (found.data ?? []).filter((batch) => batch.status !== 'running');
  return (
    <div className={classes.screen}>
      <ScreenHead title="Batches">
        {mayCook && (
          <Button size="md" onClick={() => setStart(true)}>
            Start a batch
          </Button>
        )}
      </ScreenHead>
      {found.isError && <Notice tone="stop" text={found.error.message} />}
      <Card title="On the hob">
        <ul className={classes.list}>
          {running.map((batch) => (
            <BatchRow key={batch.id} batch={batch} />
          ))}
        </ul>
        {found.data && running.length === 0 && <p className={classes.quiet}>Nothing is on the hob. {mayCook ? 'Press Start a batch and choose what to cook.' : 'A cook can start a batch.'}</p>}
      </Card>
      {ended.length > 0 && (
        <Card title="Cooked">
          <ul className={classes.list}>
            {ended.map((batch) => (
              <BatchRow key={batch.id} batch={batch} />
            ))}
          </ul>
        </Card>
      )}
      <StartDialog opened={start} onClose={() => setStart(false)} />
    </div>
  );
}
