import { Button, SegmentedControl, Switch, TextInput } from '@mantine/core';
import { useDebouncedValue, useMediaQuery } from '@mantine/hooks';
import { useInfiniteQuery, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { batchPagesQuery, type BatchesQuery, batchesQuery } from '../../api/queries';
import { useMay } from '../../app/person';
import { Card } from '../../parts/Card';
import { Notice } from '../../parts/Notice';
import { ScreenHead } from '../../parts/ScreenHead';
import { ShowMore } from '../../parts/ShowMore';
import classes from './BatchesScreen.module.css';
import { BatchRow } from './BatchRow';
import { StartDialog } from './StartDialog';
import { useBatchesLive } from './useBatchesLive';

const KINDS = [
  { value: '', label: 'All' },
  { value: 'running', label: 'On the hob' },
  { value: 'finished', label: 'Finished' },
  { value: 'stopped', label: 'Stopped' },
  { value: 'practice', label: 'Practice' },
];

/** What is on the hob, and the log of what was cooked: searched, narrowed, and taken along. */
export function BatchesScreen() {
  const [words, setWords] = useState('');
  const [which, setWhich] = useState<NonNullable<BatchesQuery['status']> | 'practice'>('');
  // What was practised stands in a list of its own, running and ended together.
  const practised = which === 'practice';
  const status = practised ? '' : which;
  const [offPlan, setOffPlan] = useState(false);
  const [start, setStart] = useState(false);
  const [q] = useDebouncedValue(words.trim(), 200);
  const narrowing: BatchesQuery = {
    ...(q ? { q } : {}),
    ...(offPlan ? { off_plan: true } : {}),
    ...(practised ? { kind: 'practice' } : {}),
  };
  const ask: BatchesQuery = { ...narrowing, ...(status ? { status } : {}) };
  const hob = useQuery({
    ...batchesQuery({ ...narrowing, status: 'running' }),
    enabled: status === '' || status === 'running',
  });
  const cooked = useInfiniteQuery({
    ...batchPagesQuery({ ...narrowing, status: status === '' ? 'ended' : status }),
    enabled: status !== 'running',
  });
  const mayCook = useMay('cook');
  const narrow = useMediaQuery('(max-width: 520px)') ?? false;
  useBatchesLive();
  const running = status === '' || status === 'running' ? (hob.data ?? []) : [];
  const ended = status === 'running' ? [] : (cooked.data?.pages.flatMap((page) => page.items) ?? []);
  const read =
    (hob.data !== undefined || status === 'finished' || status === 'stopped') &&
    (cooked.data !== undefined || status === 'running');
  const problem = hob.error ?? cooked.error;
  const narrowed = q !== '' || which !== '' || offPlan;
  const query = new URLSearchParams(Object.entries(ask).map(([name, value]) => [name, String(value)])).toString();
  return (
    <div className={classes.screen}>
      <ScreenHead title="Batches">
        <Button
          size="md"
          variant="default"
          component="a"
          href={`/api/v1/batches/table.csv${query ? `?${query}` : ''}`}
          download
        >
          Export as CSV
        </Button>
        {mayCook && (
          <Button size="md" onClick={() => setStart(true)}>
            Start a batch
          </Button>
        )}
      </ScreenHead>
      {problem && <Notice tone="stop" text={problem.message} />}
      <div className={classes.narrow}>
        <TextInput
          aria-label="Find a batch"
          placeholder="Name, number, cook, note"
          size="md"
          value={words}
          onChange={(event) => setWords(event.currentTarget.value)}
          className={classes.words}
        />
        <SegmentedControl
          aria-label="Which batches"
          size="lg"
          orientation={narrow ? 'vertical' : 'horizontal'}
          fullWidth={narrow}
          data={KINDS}
          value={which}
          onChange={(next) => setWhich(next as typeof which)}
        />
        <Switch
          size="lg"
          label="Off plan only"
          checked={offPlan}
          onChange={(event) => setOffPlan(event.currentTarget.checked)}
        />
      </div>
      {(running.length > 0 || !narrowed) && (
        <Card title={practised ? 'Being practised' : 'On the hob'}>
          <ul className={classes.list}>
            {running.map((batch) => (
              <BatchRow key={batch.id} batch={batch} />
            ))}
          </ul>
          {read && running.length === 0 && (
            <p className={classes.quiet}>
              Nothing is on the hob.{' '}
              {mayCook ? 'Press Start a batch and choose what to cook.' : 'A cook can start a batch.'}
            </p>
          )}
        </Card>
      )}
      {ended.length > 0 && (
        <Card title={practised ? 'Practised' : 'Cooked'}>
          <ul className={classes.list}>
            {ended.map((batch) => (
              <BatchRow key={batch.id} batch={batch} />
            ))}
          </ul>
          <ShowMore of={cooked} label="Show earlier ones" />
        </Card>
      )}
      {read && narrowed && running.length + ended.length === 0 && (
        <p className={classes.quiet}>
          {practised && !q && !offPlan
            ? 'Nobody has practised yet: start a batch and choose to practise it.'
            : 'No batch fits. Ask for less.'}
        </p>
      )}
      <StartDialog opened={start} onClose={() => setStart(false)} />
    </div>
  );
}
