import { Button } from '@mantine/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { answer, client } from '../../api/client';
import { forecastQuery, keys } from '../../api/queries';
import type { Forecast, ForecastSum, Override } from '../../api/types';
import { useMay } from '../../app/person';
import { day, figure, fromTo } from '../../lib/format';
import { BandChart, type BandDay } from '../../parts/BandChart';
import { Card } from '../../parts/Card';
import { Notice } from '../../parts/Notice';
import { ScreenHead } from '../../parts/ScreenHead';
import { AheadChoice } from './AheadChoice';
import { LikesCard } from './LikesCard';
import { OverrideForm } from './OverrideForm';
import { SizesTable } from './SizesTable';
import classes from './plan.module.css';
import { eventsInWords, METHODS } from './words';

/** What drinks will be sold, how sure that is, by which method, and what somebody knows better. */
export function DemandScreen() {
  const [ahead, setAhead] = useState(7);
  const found = useQuery(forecastQuery(ahead));
  const [key, setKey] = useState('');
  const mayPlan = useMay('plan');
  const shown = found.data?.report.sums.find((each) => (key === '' ? each.of === 'all' : each.key === key));
  return (
    <>
      <ScreenHead title="Forecast" aside={found.data && `from ${found.data.known_days} days of sales`}>
        <Button size="md" variant="default" component={Link} to="/plan">
          Plan
        </Button>
        <Button size="md" variant="default" component={Link} to="/plan/sales">
          Sales
        </Button>
      </ScreenHead>
      {found.error && <Notice tone="stop" text={found.error.message} />}
      {!found.data && !found.error && <p role="status">Working out what will be sold …</p>}
      {found.data && found.data.report.cells.length === 0 && (
        <Card title="Import what was sold first">
          <p>From 14 days of sales on, days to come are foreseen.</p>
          <Button size="md" component={Link} to="/plan/sales/import">
            Import sales
          </Button>
        </Card>
      )}
      {found.data && shown && (
        <div className={classes.sides}>
          <div className={classes.column}>
            <Card title={titleOf(found.data, shown)} aside={weekInWords(shown)}>
              <AheadChoice ahead={ahead} onAhead={setAhead} />
              <BandChart days={daysOf(found.data, shown)} unit="drinks" />
              <HowWrong forecast={found.data} sum={shown} />
            </Card>
            {shown.of === 'drink' && (
              <SizesTable forecast={found.data} drink={shown.key} onAll={() => setKey('')} ahead={ahead} />
            )}
            {shown.of !== 'drink' && <DrinksTable forecast={found.data} onOpen={setKey} />}
          </div>
          <div className={classes.column}>
            <OverridesCard forecast={found.data} ahead={ahead} />
            {mayPlan && (
              <OverrideForm
                key={key}
                forecast={found.data}
                drink={shown.of === 'drink' ? shown.key : ''}
                ahead={ahead}
              />
            )}
            <LikesCard forecast={found.data} ahead={ahead} />
          </div>
        </div>
      )}
    </>
  );
}

function titleOf(forecast: Forecast, sum: ForecastSum): string {
  if (sum.of === 'all') return 'All drinks';
  if (sum.of === 'place') return forecast.places.find((each) => String(each.id) === sum.key)?.name ?? 'A place';
  return forecast.drinks.find((each) => each.id === sum.key)?.name ?? 'A drink';
}

function weekInWords(sum: ForecastSum): string {
  return `${figure(sum.week.mean[0]!)} expected, ${fromTo(sum.week.low[0]!, sum.week.high[0]!)} in four of five cases`;
}

/** Days held out, then days to come. */
function daysOf(forecast: Forecast, sum: ForecastSum): BandDay[] {
  const { past, days } = sum;
  return [
    ...past.on.map((on, n) => ({
      on,
      came: past.sold[n]!,
      mean: past.said.mean[n]!,
      low: past.said.low[n]!,
      high: past.said.high[n]!,
      event: '',
    })),
    ...forecast.report.on.map((on, n) => ({
      on,
      came: null,
      mean: days.mean[n]!,
      low: days.low[n]!,
      high: days.high[n]!,
      event: forecast.report.events[n] ?? '',
    })),
  ];
}

/** How wrong each method was over the weeks it had not seen. */
function HowWrong({ forecast, sum }: { forecast: Forecast; sum: ForecastSum }) {
  const { past } = sum;
  const events = eventsInWords(forecast.report.on, forecast.report.events);
  if (past.on.length === 0)
    return <p className={classes.small}>Too few weeks are known to say how wrong this was before.</p>;
  const inside = past.sold.filter((count, n) => count >= past.said.low[n]! && count <= past.said.high[n]!).length;
  const of = (method: string) => sum.missed.find((each) => each.method === method)?.error;
  const said = (['regression', 'mean_of_four', 'last_week'] as const)
    .filter((method) => of(method) !== null && of(method) !== undefined)
    .map((method) => `${METHODS[method]} ${figure(of(method)!, 1)}`);
  return (
    <p className={classes.small}>
      Dots are what was sold, bars what had been foreseen a week before: {inside} of {past.on.length} days lay within.
      Missed a day on average, in drinks: {said.join('; ')}.{events && ` ${events}.`}
    </p>
  );
}

/** Every drink: what is expected, by which method. */
function DrinksTable({ forecast, onOpen }: { forecast: Forecast; onOpen: (key: string) => void }) {
  const drinks = forecast.report.sums.filter((each) => each.of === 'drink');
  const names = new Map(forecast.drinks.map((each) => [each.id, each.name]));
  const rows = [...drinks].sort((a, b) => b.week.mean[0]! - a.week.mean[0]!);
  const unforeseen = forecast.unforeseen.map((id) => names.get(id)).filter(Boolean);
  return (
    <Card title="By drink" aside="press one for its sizes">
      <div className={classes.wide} data-sideways="">
        <table className={classes.table} aria-label="By drink">
          <thead>
            <tr>
              <th scope="col">Drink</th>
              {forecast.report.on.slice(0, 7).map((on, n) => (
                <th key={on} scope="col" data-event={forecast.report.events[n] || undefined}>
                  {n === 0 ? 'Today' : day(on).split(' ').slice(0, 2).join(' ')}
                </th>
              ))}
              <th scope="col">Together</th>
              <th scope="col">Missed a day</th>
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => {
              const error = row.missed[0]?.error;
              return (
                <tr key={row.key}>
                  <th scope="row">
                    <button type="button" className={classes.name} onClick={() => onOpen(row.key)}>
                      {names.get(row.key) ?? 'A drink'}
                    </button>
                  </th>
                  {row.days.mean.slice(0, 7).map((mean, n) => (
                    <td key={n} data-event={forecast.report.events[n] || undefined}>
                      {figure(mean)}
                    </td>
                  ))}
                  <td>
                    <span className={classes.strong}>{figure(row.week.mean[0]!)}</span>
                    <span className={classes.small}>{fromTo(row.week.low[0]!, row.week.high[0]!)}</span>
                  </td>
                  <td className={classes.dim}>{error === null || error === undefined ? '—' : figure(error, 1)}</td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
      {unforeseen.length > 0 && (
        <p className={classes.small}>
          Nothing is known of {unforeseen.join(', ')}: take a new drink to sell like another, beside this.
        </p>
      )}
    </Card>
  );
}

/** What somebody said of days to come; undone by one press. */
function OverridesCard({ forecast, ahead }: { forecast: Forecast; ahead: number }) {
  const mayPlan = useMay('plan');
  const queryClient = useQueryClient();
  const undo = useMutation({
    mutationFn: (id: number) =>
      answer(client.DELETE('/api/v1/plan/overrides/{id}', { params: { path: { id }, query: { ahead } } })),
    onSuccess: (out) => {
      queryClient.setQueryData(forecastQuery(ahead).queryKey, out);
      void queryClient.invalidateQueries({ queryKey: keys.plan });
    },
  });
  if (forecast.overrides.length === 0) return null;
  return (
    <Card title="Said of days to come">
      <ul className={classes.list} aria-label="Said of days to come">
        {forecast.overrides.map((each) => (
          <li key={each.id}>
            <span>
              {overrideInWords(forecast, each)}
              <span className={classes.small}>
                {each.reason} · {each.by}
              </span>
            </span>
            {mayPlan && (
              <Button
                size="sm"
                variant="default"
                aria-label={`Undo: ${overrideInWords(forecast, each)}`}
                loading={undo.isPending && undo.variables === each.id}
                onClick={() => undo.mutate(each.id)}
              >
                Undo
              </Button>
            )}
          </li>
        ))}
      </ul>
      {undo.error && <Notice tone="stop" text={undo.error.message} />}
    </Card>
  );
}

function overrideInWords(forecast: Forecast, each: Override): string {
  const drink = forecast.drinks.find((other) => other.id === each.drink);
  const size = drink?.sizes.find((other) => other.id === each.size)?.name;
  const place = forecast.places.find((other) => other.id === each.place)?.name;
  const what = [drink?.name ?? 'All drinks', size].filter(Boolean).join(' ');
  const days = each.first === each.last ? day(each.first) : `${day(each.first)} to ${day(each.last)}`;
  const much = each.times !== null ? `${figure(each.times!, 2)} times` : `${figure(each.count!)} a day`;
  return `${what}${place ? ` at ${place}` : ''}: ${much}, ${days}`;
}
