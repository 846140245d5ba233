import { Button } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { forecastQuery, overPoursQuery, planNeedsQuery, weekQuery } from '../../api/queries';
import type { Needs, PlanPin, ProductNeed } from '../../api/types';
import { day, figure, fromTo } from '../../lib/format';
import { useKept } from '../../lib/useKept';
import { useMoney } from '../../lib/useMoney';
import { Card } from '../../parts/Card';
import { Notice } from '../../parts/Notice';
import { ScreenHead } from '../../parts/ScreenHead';
import { AheadChoice } from './AheadChoice';
import { NeedDrawer } from './NeedDrawer';
import { OverPourCard } from './OverPourCard';
import { RoomCard } from './RoomCard';
import classes from './plan.module.css';
import { ThisPlanCard, WhyCard } from './WeekAside';
import { WeekCard } from './WeekCard';
import { eventsInWords, kilograms, together } from './words';

/** What the days to come need of everything that is made, and how sure that is. */
export function PlanScreen() {
  const [ahead, setAhead] = useState(7);
  const forecast = useQuery(forecastQuery(ahead));
  const needs = useQuery({ ...planNeedsQuery(ahead), enabled: forecast.isSuccess });
  const overPours = useQuery(overPoursQuery);
  const [open, setOpen] = useState<string | null>(null);
  const decided = useKept<{ pins: DatedPin[]; asked: boolean }>('plan', { pins: [], asked: false });
  const [cook, setCook] = useState<{ product: string; day: number } | null>(null);
  const foreseen = (forecast.data?.report.cells.length ?? 0) > 0;
  const on = forecast.data?.report.on ?? [];
  // What was decided of days that are over is over.
  const pins = decided.value.pins.flatMap(({ on: at, ...pin }) => {
    const n = on.indexOf(at);
    return n >= 0 && n < 7 ? [{ ...pin, day: n }] : [];
  });
  const week = useQuery({ ...weekQuery(pins), enabled: decided.value.asked && foreseen });
  const pin = (next: PlanPin[]) =>
    decided.set({ pins: next.map(({ day: n, ...each }) => ({ ...each, on: on[n] ?? '' })), asked: true });
  const whole = forecast.data?.report.sums.find((each) => each.of === 'all')?.week;
  const error = forecast.error ?? needs.error;
  const chosen = needs.data?.report.products.find((each) => each.product === open);
  return (
    <>
      <ScreenHead
        title={ahead === 7 ? 'The next 7 days' : `The next ${ahead} days`}
        aside={
          whole &&
          [
            `${figure(whole.mean[0]!)} drinks expected (${fromTo(whole.low[0]!, whole.high[0]!)})`,
            eventsInWords(forecast.data!.report.on, forecast.data!.report.events),
          ]
            .filter(Boolean)
            .join(' · ')
        }
      >
        <Button size="md" variant="default" component={Link} to="/plan/drinks">
          Forecast
        </Button>
        <Button size="md" variant="default" component={Link} to="/plan/sales">
          Sales
        </Button>
      </ScreenHead>
      <div className={classes.column}>
        {error && <Notice tone="stop" text={error.message} />}
        {!error && !needs.data && <p role="status">Working out what will be sold …</p>}
        {forecast.data && forecast.data.report.cells.length === 0 && <Empty knownDays={forecast.data.known_days} />}
        {foreseen && !decided.value.asked && (
          <Card title="How much, and when" aside="whole cooks that fit shelf lives, pots, burners and hands, in money">
            <Button size="md" onClick={() => pin([])}>
              Make a plan
            </Button>
          </Card>
        )}
        {decided.value.asked && (
          <div className={classes.row}>
            {week.isFetching && <p role="status">Working out a plan, and living through 1,000 weeks of it …</p>}
            {pins.length > 0 && (
              <Button size="sm" variant="default" onClick={() => pin([])}>
                Undo what was decided ({pins.length})
              </Button>
            )}
          </div>
        )}
        {week.error && !week.isFetching && <Notice tone="stop" text={week.error.message} />}
        {week.data && week.data.plan.blamed.length > 0 && (
          <Notice
            tone="stop"
            text={`That cannot be together: ${together(
              week.data.plan.blamed.map((n) => pinInWords(pins[n], on, needs.data)),
            )}. Undo one of them.`}
          />
        )}
        {week.data && week.data.plan.products.length > 0 && (
          <div className={classes.sides}>
            <WeekCard week={week.data} open={cook} onOpen={setCook} />
            <div className={classes.column}>
              {cook && <WhyCard week={week.data} open={cook} pins={pins} onPins={pin} />}
              <ThisPlanCard week={week.data} />
              <RoomCard settings={week.data.settings} />
            </div>
          </div>
        )}
        {needs.data && needs.data.report.products.length > 0 && (
          <div className={classes.sides}>
            <Card title="What is needed" aside="in kilograms, of what is served and of what goes into it">
              <AheadChoice ahead={ahead} onAhead={setAhead} />
              <NeedsTable needs={needs.data} open={open} onOpen={setOpen} />
            </Card>
            <div className={classes.column}>
              <Ingredients needs={needs.data} />
              {overPours.data && <OverPourCard rows={overPours.data.rows} />}
            </div>
          </div>
        )}
      </div>
      {needs.data && <NeedDrawer needs={needs.data} need={chosen ?? null} onClose={() => setOpen(null)} />}
    </>
  );
}

/** What was decided, by its date: kept over night it still means the same day. */
type DatedPin = Omit<PlanPin, 'day'> & { on: string };

/** “2 cooks of Weir Simple on Tue 2 Dec”. */
function pinInWords(pin: PlanPin | undefined, days: string[], needs: Needs | undefined): string {
  if (!pin) return '';
  const name = needs?.products.find((each) => each.id === pin.product)?.name ?? 'a product';
  const on = day(days[pin.day] ?? '');
  return pin.cooks === 0
    ? `no ${name} on ${on}`
    : `${pin.cooks} ${pin.cooks === 1 ? 'cook' : 'cooks'} of ${name} on ${on}`;
}

function Empty({ knownDays }: { knownDays: number }) {
  return (
    <Card title="Import what was sold first">
      <p>
        {knownDays === 0
          ? 'A file from the till says what was sold each day. Two weeks are enough to begin with, nine show the rhythm of the week.'
          : `Sales of ${knownDays} ${knownDays === 1 ? 'day are' : 'days are'} known. From 14 days on, days to come are foreseen.`}
      </p>
      <Button size="md" component={Link} to="/plan/sales/import">
        Import sales
      </Button>
    </Card>
  );
}

interface NeedsTableProps {
  needs: Needs;
  open: string | null;
  onOpen: (product: string) => void;
}

/** Products over the days, or over weeks where there are many. */
function NeedsTable({ needs, open, onOpen }: NeedsTableProps) {
  const names = new Map(needs.products.map((each) => [each.id, each.name]));
  const weekly = needs.on.length > 7;
  const columns = weekly
    ? Array.from({ length: Math.ceil(needs.on.length / 7) }, (_, week) => ({
        key: needs.on[week * 7]!,
        title: `From ${day(needs.on[week * 7]!)}`,
        event: needs.events.slice(week * 7, week * 7 + 7).find(Boolean) ?? '',
        of: (need: ProductNeed) => sum(need.days.mean.slice(week * 7, week * 7 + 7)),
      }))
    : needs.on.map((on, n) => ({
        key: on,
        title: n === 0 ? 'Today' : day(on).split(' ').slice(0, 2).join(' '),
        event: needs.events[n] ?? '',
        of: (need: ProductNeed) => need.days.mean[n] ?? 0,
      }));
  return (
    <div className={classes.wide} data-sideways="">
      <table className={classes.table} aria-label="What is needed">
        <thead>
          <tr>
            <th scope="col">Product</th>
            {columns.map((column) => (
              <th key={column.key} scope="col" data-event={column.event || undefined}>
                {column.title}
                {column.event && <span className={classes.small}>{column.event}</span>}
              </th>
            ))}
            <th scope="col">Together</th>
          </tr>
        </thead>
        <tbody>
          {needs.report.products.map((need) => (
            <tr key={need.product} data-pressed={open === need.product || undefined}>
              <th scope="row">
                <button type="button" className={classes.name} onClick={() => onOpen(need.product)}>
                  {names.get(need.product) ?? 'A product that was archived'}
                </button>
                {need.within.length > 0 && (
                  <span className={classes.small}>
                    also for {need.within.map((each) => names.get(each.id) ?? '').join(' and ')}
                  </span>
                )}
              </th>
              {columns.map((column) => (
                <td key={column.key} data-event={column.event || undefined}>
                  {kilograms(column.of(need))}
                </td>
              ))}
              <td>
                <span className={classes.strong}>{kilograms(need.whole.mean[0]!)} kg</span>
                <span className={classes.small}>
                  {fromTo(need.whole.low[0]! / 1000, need.whole.high[0]! / 1000, digitsOf(need))}
                </span>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

const sum = (values: number[]) => values.reduce((total, each) => total + each, 0);
const digitsOf = (need: ProductNeed) => (need.whole.mean[0]! < 1000 ? 2 : 1);

/** What is bought for it, the most first. */
function Ingredients({ needs }: { needs: Needs }) {
  const money = useMoney();
  const [all, setAll] = useState(false);
  const rows = needs.report.bought;
  const priced = rows.filter((each) => each.price !== null);
  return (
    <Card
      title="What goes in"
      aside={priced.length > 0 ? `${money(sum(priced.map((each) => each.price ?? 0)), 0)} together` : ''}
    >
      <ul className={classes.list} aria-label="What goes in">
        {(all ? rows : rows.slice(0, 8)).map((each) => (
          <li key={each.id}>
            <span>{each.title}</span>
            <span className={classes.figure}>
              <span className={classes.strong}>{kilograms(each.grams)} kg</span>
              <span className={classes.small}>up to {kilograms(each.high_g)} kg</span>
            </span>
          </li>
        ))}
      </ul>
      {rows.length > 8 && (
        <Button size="sm" variant="default" onClick={() => setAll(!all)}>
          {all ? 'Show less' : `Show all ${rows.length}`}
        </Button>
      )}
    </Card>
  );
}
