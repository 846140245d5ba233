import { Button, NativeSelect } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { Fragment } from 'react';
import { dosesQuery } from '../../api/queries';
import { figure } from '../../lib/format';
import { useKept } from '../../lib/useKept';
import { Card } from '../../parts/Card';
import { Notice } from '../../parts/Notice';
import { ScreenHead } from '../../parts/ScreenHead';
import classes from './Doses.module.css';

export type Paper = 'A4' | 'A5' | 'A6';
const PAPERS: Paper[] = ['A4', 'A5', 'A6'];

/** Doses of everything that is served, large enough for the bar's tablet; and what hangs beside it on paper. */
export function DosesScreen() {
  const doses = useQuery(dosesQuery);
  const kept = useKept<{ paper: Paper }>('card paper', { paper: 'A5' });
  const { paper } = kept.value;
  const found = doses.data;
  const drinks = found ? [...new Set(found.rows.map((row) => row.drink))] : [];
  return (
    <>
      <ScreenHead title="Doses">
        {found && found.rows.length > 0 && (
          <>
            <NativeSelect
              aria-label="Paper of the cards"
              size="md"
              value={paper}
              data={PAPERS}
              onChange={(event) => kept.set({ paper: event.currentTarget.value as Paper })}
            />
            <Button
              size="md"
              variant="default"
              component="a"
              href={`/api/v1/drinks/doses.pdf?paper=${paper}`}
              target="_blank"
              rel="noopener"
            >
              Dose card
            </Button>
            <Button
              size="md"
              variant="default"
              component="a"
              href={`/api/v1/drinks/sheet.pdf?paper=${paper}`}
              target="_blank"
              rel="noopener"
            >
              Allergens and nutrition
            </Button>
          </>
        )}
      </ScreenHead>
      {doses.isError && <Notice tone="stop" text={doses.error.message} />}
      {found && (
        <Card>
          {drinks.length === 0 ? (
            <p>No drink is ready for service yet. A lead saves a version of a drink and marks it.</p>
          ) : (
            <div className={classes.wide} data-sideways="">
              <table className={classes.doses}>
                <thead>
                  <tr>
                    <th scope="col">Drink</th>
                    {found.sizes.map((size) => (
                      <th key={size} scope="col">
                        {size}
                      </th>
                    ))}
                  </tr>
                </thead>
                <tbody>
                  {drinks.map((drink) => (
                    <Fragment key={drink}>
                      {found.rows
                        .filter((row) => row.drink === drink)
                        .map((row, index) => (
                          <tr key={row.product} data-first={index === 0 || undefined}>
                            <th scope="row">
                              {index === 0 && <span className={classes.drink}>{drink}</span>}
                              <span className={classes.product}>
                                {row.product}
                                {row.stroke_ml != null && `, pump of ${figure(row.stroke_ml, 1)} ml`}
                              </span>
                            </th>
                            {row.amounts.map((amount, at) => (
                              <td key={found.sizes[at]}>{amount ?? '–'}</td>
                            ))}
                          </tr>
                        ))}
                    </Fragment>
                  ))}
                </tbody>
              </table>
            </div>
          )}
        </Card>
      )}
    </>
  );
}
