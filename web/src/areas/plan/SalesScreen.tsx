import { Button } from '@mantine/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { answer, client } from '../../api/client';
import { keys, salesQuery } from '../../api/queries';
import type { Sales } from '../../api/types';
import { useMay } from '../../app/person';
import { day, figure, when } from '../../lib/format';
import { Card } from '../../parts/Card';
import { Notice } from '../../parts/Notice';
import { ScreenHead } from '../../parts/ScreenHead';
import { CalendarCard } from './CalendarCard';
import { CorrectionsCard } from './CorrectionsCard';
import { SalesDayDrawer } from './SalesDayDrawer';
import { TillsCard } from './TillsCard';
import classes from './plan.module.css';

/** What was sold, day by day and place by place: where it is known from, what was corrected, which days are not like others. */
export function SalesScreen() {
  const found = useQuery(salesQuery);
  const mayPlan = useMay('plan');
  const [open, setOpen] = useState<{ on: string; place: number } | null>(null);
  return (
    <>
      <ScreenHead title="Sales" aside={found.data && summary(found.data)}>
        <Button size="md" variant="default" component={Link} to="/plan">
          Plan
        </Button>
        <Button size="md" variant="default" component={Link} to="/plan/drinks">
          Forecast
        </Button>
        {mayPlan && (
          <Button size="md" component={Link} to="/plan/sales/import">
            Import sales
          </Button>
        )}
      </ScreenHead>
      {found.error && <Notice tone="stop" text={found.error.message} />}
      {found.data && (
        <div className={classes.sides}>
          <div className={classes.column}>
            {found.data.places.length === 0 && (
              <Card title="No bar yet">
                <p>Name the places where drinks are sold under Site, then import what was sold.</p>
                <Button size="md" component={Link} to="/site">
                  Site
                </Button>
              </Card>
            )}
            {found.data.places.map((place) => (
              <Card key={place.id} title={place.name} aside={`${figure(cups(place.cups))} drinks in 9 weeks`}>
                <Weeks sales={found.data} place={place} open={open} onOpen={(on) => setOpen({ on, place: place.id })} />
              </Card>
            ))}
          </div>
          <div className={classes.column}>
            <CalendarCard sales={found.data} />
            <TillsCard />
            <ImportsCard sales={found.data} />
            <CorrectionsCard />
          </div>
          <SalesDayDrawer sales={found.data} open={open} onClose={() => setOpen(null)} />
        </div>
      )}
    </>
  );
}

const cups = (counts: (number | null)[]) => counts.reduce<number>((total, each) => total + (each ?? 0), 0);

function summary(sales: Sales): string {
  const known = sales.on.filter((_, n) => sales.places.some((place) => place.cups[n] !== null));
  if (known.length === 0) return 'nothing is known yet';
  return `known up to ${day(known[known.length - 1]!)}`;
}

interface WeeksProps {
  sales: Sales;
  place: Sales['places'][number];
  open: { on: string; place: number } | null;
  onOpen: (on: string) => void;
}

const WEEKDAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];

/** A row a week, a square a day: how many drinks; dashed where nobody knows. */
function Weeks({ sales, place, open, onOpen }: WeeksProps) {
  const weeks = Array.from({ length: Math.ceil(sales.on.length / 7) }, (_, n) => n * 7);
  const marked = (on: string) =>
    sales.calendar.find(
      (each) => each.first <= on && on <= each.last && (each.place === null || each.place === place.id),
    );
  return (
    <div className={classes.wide} data-sideways="">
      <table className={classes.weeks} aria-label={`Sales at ${place.name}`}>
        <thead>
          <tr>
            <th scope="col">Week</th>
            {WEEKDAYS.map((each) => (
              <th key={each} scope="col">
                {each}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {weeks.map((from) => (
            <tr key={from}>
              <th scope="row">{day(sales.on[from]!).split(' ').slice(1).join(' ')}</th>
              {sales.on.slice(from, from + 7).map((on, n) => {
                const count = place.cups[from + n] ?? null;
                const mark = marked(on);
                const words = mark ? (mark.kind === 'closed' ? 'closed' : mark.name) : '';
                return (
                  <td key={on}>
                    <button
                      type="button"
                      className={classes.cell}
                      data-none={count === null || undefined}
                      data-event={mark ? '' : undefined}
                      data-chosen={open?.on === on && open.place === place.id ? '' : undefined}
                      title={words || undefined}
                      aria-label={`${day(on)}: ${count === null ? 'not known' : `${figure(count)} drinks`}${words && `, ${words}`}`}
                      onClick={() => onOpen(on)}
                    >
                      {count === null ? '—' : figure(count)}
                    </button>
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** Files that were imported, the newest first; the newest can be undone. */
function ImportsCard({ sales }: { sales: Sales }) {
  const mayPlan = useMay('plan');
  const queryClient = useQueryClient();
  const undo = useMutation({
    mutationFn: (id: string) =>
      answer(client.POST('/api/v1/sales/imports/{import_id}/undo', { params: { path: { import_id: id } } })),
    onSuccess: () => {
      for (const key of [keys.sales, keys.plan]) void queryClient.invalidateQueries({ queryKey: key });
    },
  });
  if (sales.imports.length === 0) return null;
  return (
    <Card title="Imported">
      <ul className={classes.list} aria-label="Imported">
        {sales.imports.slice(0, 6).map((each) => (
          <li key={each.id}>
            <span>
              {each.name}
              <span className={classes.small}>
                {each.undone_at
                  ? 'undone'
                  : `${figure(each.added)} added, ${figure(each.changed)} changed, ${figure(each.same)} as before`}{' '}
                · {when(each.at)} · {each.by}
              </span>
            </span>
            {mayPlan && each.may_undo && (
              <Button
                size="sm"
                variant="default"
                aria-label={`Undo the import of ${each.name}`}
                loading={undo.isPending}
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
