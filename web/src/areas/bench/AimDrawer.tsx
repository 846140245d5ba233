import { Button, Checkbox, Loader, NativeSelect, Switch } from '@mantine/core';
import { useInfiniteQuery, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { answer, client } from '../../api/client';
import { benchmarkPagesQuery } from '../../api/queries';
import type { AimReport, MethodDocument } from '../../api/types';
import { figure, grams } from '../../lib/format';
import { AxisLegend, AxisRow } from '../../parts/AxisRow';
import { Notice } from '../../parts/Notice';
import { ShowMore } from '../../parts/ShowMore';
import { SideDrawer } from '../../parts/SideDrawer';
import classes from './AimDrawer.module.css';

interface AimDrawerProps {
  opened: boolean;
  /** Which benchmark it is opened with. */
  start: string | null;
  document: MethodDocument;
  /** What a line is called, by its id. */
  titles: Record<string, string>;
  readOnly: boolean;
  onTake: (document: MethodDocument, words: string) => void;
  onClose: () => void;
}

/** This formula aimed at a benchmark: the windows, what to change, and both on common axes before and after. */
export function AimDrawer({ opened, start, document, titles, readOnly, onTake, onClose }: AimDrawerProps) {
  const benchmarks = useInfiniteQuery({ ...benchmarkPagesQuery(''), enabled: opened });
  const cards = benchmarks.data?.pages.flatMap((page) => page.items) ?? [];
  const [picked, setPicked] = useState<string | null>(null);
  const [chosen, setChosen] = useState<string[] | null>(null);
  const [same, setSame] = useState(true);
  const id = picked ?? start ?? cards[0]?.id ?? null;
  const aimed = useQuery({
    queryKey: ['aim', id, chosen, same, document],
    queryFn: ({ signal }) =>
      answer(
        client.POST('/api/v1/benchmarks/{benchmark_id}/aim', {
          params: { path: { benchmark_id: id ?? '' } },
          body: { document, chosen, same_size: same },
          signal,
        }),
      ),
    enabled: opened && id !== null,
    // What was worked out of another document is not how it stands now.
    placeholderData: (before, query) => (query?.queryKey[4] === document ? before : undefined),
    retry: false,
    gcTime: 0,
  });
  const found = aimed.data;
  const now = found?.report.aims.filter((aim) => aim.chosen).map((aim) => aim.reading) ?? [];
  const solution = found?.solution;
  const within = found?.report.aims.filter((aim) => aim.stands === 'within') ?? [];
  const box = (aim: AimReport['report']['aims'][number]) => (
    <Checkbox
      key={aim.reading}
      label={aimText(aim)}
      checked={aim.chosen}
      disabled={aim.stands === 'unknown'}
      onChange={(event) =>
        setChosen(event.currentTarget.checked ? [...now, aim.reading] : now.filter((each) => each !== aim.reading))
      }
    />
  );
  return (
    <SideDrawer
      opened={opened}
      title="Aim at a benchmark"
      closeLabel="Close the benchmark"
      width={620}
      onClose={onClose}
    >
      {benchmarks.data && cards.length === 0 && (
        <p className={classes.dim}>
          There is none yet. <Link to="/tastings/benchmarks/new">Add one</Link>: a label is enough, so is one sip beside
          ours.
        </p>
      )}
      {cards.length > 0 && (
        <NativeSelect
          label="Benchmark"
          data={cards.map((card) => ({ value: card.id, label: card.name }))}
          value={id ?? ''}
          onChange={(event) => {
            setPicked(event.currentTarget.value);
            setChosen(null);
          }}
        />
      )}
      <ShowMore of={benchmarks} label="More benchmarks" />
      {aimed.isFetching && (
        <p className={classes.dim} role="status">
          <Loader size="xs" /> Calculating
        </p>
      )}
      {aimed.isError && <Notice tone="stop" text={aimed.error.message} />}
      {found && !aimed.isError && (
        <>
          <fieldset className={classes.aims}>
            <legend>Aim by</legend>
            {found.report.aims.filter((aim) => aim.stands !== 'within').map(box)}
            {within.length > 0 && (
              <details>
                <summary>{within.length === 1 ? 'One is within' : `${within.length} are within`}</summary>
                {within.map(box)}
              </details>
            )}
            <Switch
              label="Keep the batch as large as it is"
              checked={same}
              onChange={(event) => setSame(event.currentTarget.checked)}
            />
          </fieldset>
          {found.already && <Notice tone="fine" text="Ours stands in every one of these windows already." />}
          {!solution && !found.already && <p className={classes.dim}>Nothing is chosen that ours has a figure for.</p>}
          {solution && (
            <section aria-label="What to change" className={classes.change}>
              <h3>{solution.status === 'solved' ? 'What to change' : 'The nearest there is'}</h3>
              {solution.status !== 'solved' && <Notice tone="look" text={solution.words} />}
              {found.brought.length > 0 && (
                <p>Nothing that is in it reaches that. Add: {found.brought.join(', ').toLowerCase()}.</p>
              )}
              <ul>
                {solution.changes.map((change) => (
                  <li key={change.path}>{changeText(change, titles)}</li>
                ))}
              </ul>
              {found.leaves.length > 0 && <Notice tone="look" text={found.leaves.join(' ')} />}
              {!readOnly && (
                <Button
                  size="md"
                  disabled={aimed.isPlaceholderData}
                  onClick={() => onTake(solution.document, `aimed at ${found.names[0]}`)}
                >
                  Apply
                </Button>
              )}
            </section>
          )}
          <AxisLegend names={found.names} />
          {found.report.axes.map((axis) => (
            <AxisRow key={axis.reading} axis={axis} names={found.names} />
          ))}
          <ul className={classes.words}>
            {[...found.report.words, ...found.report.unread].map((text) => (
              <li key={text}>{text}</li>
            ))}
          </ul>
        </>
      )}
    </SideDrawer>
  );
}

/** “Fat: 8.4 to 9.4 %; ours 15.0, above”. */
function aimText(aim: AimReport['report']['aims'][number]): string {
  const [low, high] = [figure(aim.low, aim.digits), figure(aim.high, aim.digits)];
  const window = `${low === high ? low : `${low} to ${high}`}${aim.unit ? ` ${aim.unit}` : ''}`;
  return `${aim.title}: ${window}; ${aim.ours === null ? 'ours has none' : `ours ${figure(aim.ours, aim.digits)}, ${aim.stands}`}`;
}

type Change = NonNullable<AimReport['solution']>['changes'][number];

/** “Caster sugar: 230 → 366 g”, “skimmed milk: 175 g, new”. */
function changeText(change: Change, titles: Record<string, string>): string {
  const [kind, id] = change.path.split('.');
  const what =
    kind === 'lines'
      ? (titles[id ?? ''] ??
        (id ?? '')
          .replace(/-\d+$/, '')
          .replaceAll('-', ' ')
          .replace(/^./, (first) => first.toUpperCase()))
      : `The end of ${titles[id ?? ''] ?? id}`;
  const unit = change.unit ? ` ${change.unit}` : '';
  return change.before === 0
    ? `${what}: ${grams(change.after)}${unit}, new`
    : `${what}: ${grams(change.before)} → ${grams(change.after)}${unit}`;
}
