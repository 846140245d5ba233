import { Button } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { Link, useParams } from 'react-router';
import { originQuery } from '../../api/queries';
import { grams, when } from '../../lib/format';
import { Card } from '../../parts/Card';
import { Notice } from '../../parts/Notice';
import { ScreenHead } from '../../parts/ScreenHead';
import classes from './Bottles.module.css';

/** What is in a bottle, lot by lot: its own batch first, then what that was made with. */
export function OriginScreen() {
  const { id = '' } = useParams();
  const found = useQuery(originQuery(id));
  const batches = found.data?.batches ?? [];
  const first = batches[0];
  return (
    <div className={classes.screen}>
      <ScreenHead title="What is in it">
        {first && (
          <Button size="md" variant="default" component="a" href={`/api/v1/stock/batches/${first.id}/origin.csv`}>
            As a table
          </Button>
        )}
      </ScreenHead>
      <Link to={`/bottles/${id}`} className={classes.back}>
        Back to the bottle
      </Link>
      {found.isError && <Notice tone="stop" text={found.error.message} />}
      {batches.map((batch) => (
        <Card
          key={batch.id}
          title={`${batch.name}, batch ${String(batch.number).padStart(4, '0')}`}
          aside={`started ${when(batch.started_at)}`}
        >
          <div className={classes.wide} data-sideways="">
            <table className={classes.table}>
              <thead>
                <tr>
                  <th scope="col">Ingredient</th>
                  <th scope="col">Lot</th>
                  <th scope="col">Supplier</th>
                  <th scope="col">Grams</th>
                </tr>
              </thead>
              <tbody>
                {batch.lots.map((lot) => (
                  <tr key={`${lot.ingredient} ${lot.code}`}>
                    <th scope="row">{lot.title}</th>
                    <td>
                      {lot.code ? (
                        <Link
                          to={`/bottles/recall?ingredient=${lot.ingredient}&lot=${encodeURIComponent(lot.code)}`}
                          className={classes.name}
                        >
                          {lot.code}
                        </Link>
                      ) : (
                        'not noted'
                      )}
                    </td>
                    <td>{lot.supplier || '—'}</td>
                    <td>{grams(lot.grams)} g</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
          {batch.lots.length === 0 && <p className={classes.quiet}>Nothing that is bought went into it.</p>}
        </Card>
      ))}
    </div>
  );
}
