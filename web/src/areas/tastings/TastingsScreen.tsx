import { Button, TextInput } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { useInfiniteQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { benchmarkPagesQuery } from '../../api/queries';
import { useMay } from '../../app/person';
import { ago } from '../../lib/format';
import { Card } from '../../parts/Card';
import { Notice } from '../../parts/Notice';
import { ScreenHead } from '../../parts/ScreenHead';
import { ShowMore } from '../../parts/ShowMore';
import { WHAT } from './words';
import classes from './Tastings.module.css';

/** What is aimed for: benchmarks, each with its label and what was tasted. */
export function TastingsScreen() {
  const [words, setWords] = useState('');
  const [q] = useDebouncedValue(words.trim(), 200);
  const benchmarks = useInfiniteQuery(benchmarkPagesQuery(q));
  const shown = benchmarks.data?.pages.flatMap((page) => page.items) ?? [];
  const mayTaste = useMay('taste');
  return (
    <>
      <ScreenHead title="Tastings">
        {mayTaste && (
          <Button size="md" component={Link} to="/tastings/benchmarks/new">
            New benchmark
          </Button>
        )}
      </ScreenHead>
      {benchmarks.isError && <Notice tone="stop" text={benchmarks.error.message} />}
      <Card title="Benchmarks" aside="what to aim for: a bought thing, another bar's, our own of before">
        {(shown.length > 5 || words !== '') && (
          <TextInput
            aria-label="Filter"
            placeholder="Filter"
            value={words}
            onChange={(event) => setWords(event.currentTarget.value)}
          />
        )}
        <ul className={classes.list}>
          {shown.map((card) => (
            <li key={card.id}>
              <span>
                <Link className={classes.name} to={`/tastings/benchmarks/${card.id}`}>
                  {card.name}
                </Link>
                <br />
                <span className={classes.dim}>
                  {WHAT[card.what]}, {card.has_label ? 'with its label' : 'no label'},{' '}
                  {card.sheets === 0
                    ? 'not tasted yet'
                    : card.sheets === 1
                      ? 'one tasting sheet'
                      : `${card.sheets} tasting sheets`}
                </span>
              </span>
              <span className={classes.dim}>
                {ago(card.changed_at)}, {card.changed_by}
              </span>
            </li>
          ))}
        </ul>
        <ShowMore of={benchmarks} />
        {benchmarks.data && shown.length === 0 && q !== '' && <p>No benchmark has that in its name.</p>}
        {benchmarks.data && shown.length === 0 && q === '' && (
          <p>
            Nothing to aim for yet.{' '}
            {mayTaste
              ? 'Press New benchmark: a label is enough to begin with, so is one sip beside ours.'
              : 'Whoever cooks here can write one down.'}
          </p>
        )}
      </Card>
    </>
  );
}
