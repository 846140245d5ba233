import { Button } from '@mantine/core';
import type { Forecast, ForecastCell } from '../../api/types';
import { figure, fromTo } from '../../lib/format';
import { Card } from '../../parts/Card';
import classes from './plan.module.css';
import { METHODS_SHORT } from './words';

interface SizesTableProps {
  forecast: Forecast;
  drink: string;
  ahead: number;
  onAll: () => void;
}

/** A drink by place and size: what is expected, by which method, how wrong each was. */
export function SizesTable({ forecast, drink, ahead, onAll }: SizesTableProps) {
  const known = forecast.drinks.find((each) => each.id === drink);
  const cells = forecast.report.cells.filter((each) => each.drink === drink);
  const place = (cell: ForecastCell) => forecast.places.find((each) => String(each.id) === cell.place)?.name ?? '';
  const size = (cell: ForecastCell) => known?.sizes.find((each) => each.id === cell.size)?.name ?? cell.size;
  const order = new Map(known?.sizes.map((each, n) => [each.id, n]));
  const rows = [...cells].sort(
    (a, b) => place(a).localeCompare(place(b)) || (order.get(a.size) ?? 0) - (order.get(b.size) ?? 0),
  );
  const error = (cell: ForecastCell, method: string) => {
    const found = cell.missed.find((each) => each.method === method)?.error;
    return found === null || found === undefined ? '—' : figure(found, 1);
  };
  return (
    <Card title="By place and size" aside={`${ahead} days together; missed a day on average over the weeks held out`}>
      <div className={classes.wide} data-sideways="">
        <table className={classes.table} aria-label="By place and size">
          <thead>
            <tr>
              <th scope="col" className={classes.line}>
                Place and size
              </th>
              <th scope="col">Expected</th>
              <th scope="col">A day</th>
              <th scope="col">By</th>
              <th scope="col">Regression</th>
              <th scope="col">Mean of four</th>
              <th scope="col">Last week</th>
              <th scope="col">Within band</th>
            </tr>
          </thead>
          <tbody>
            {rows.map((cell) => (
              <tr key={`${cell.place} ${cell.size}`}>
                <th scope="row" className={classes.line}>
                  {place(cell)}, {size(cell)}
                </th>
                <td className={classes.strong}>
                  {figure(cell.days.mean.reduce((total, each) => total + each, 0))}
                  {cell.before && (
                    <span className={classes.small}>
                      {figure(cell.before.reduce((total, each) => total + each, 0))} before what was said
                    </span>
                  )}
                </td>
                <td>{fromTo(Math.min(...cell.days.low), Math.max(...cell.days.high))}</td>
                <td className={classes.dim}>{METHODS_SHORT[cell.by]}</td>
                <td>{error(cell, 'regression')}</td>
                <td>{error(cell, 'mean_of_four')}</td>
                <td>{error(cell, 'last_week')}</td>
                <td className={classes.dim}>
                  {cell.covered === null || cell.covered === undefined ? '—' : `${figure(100 * cell.covered)} %`}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <Button mt="sm" size="sm" variant="default" onClick={onAll}>
        All drinks
      </Button>
    </Card>
  );
}
