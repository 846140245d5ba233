import { Button, NativeSelect, TextInput } from '@mantine/core';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, client } from '../../api/client';
import { keys } from '../../api/queries';
import type { CalendarEntry, Sales } from '../../api/types';
import { useMay } from '../../app/person';
import { numberIn, wrongIn } from '../../lib/figures';
import { day, dayOf, figure } from '../../lib/format';
import { Card } from '../../parts/Card';
import { Notice } from '../../parts/Notice';
import { FromTo } from './FromTo';
import classes from './plan.module.css';

/** What an event does to sales. */
const TIMES = { above: 0, high: 20 };

/** Days on which something goes on, or a place is closed. */
export function CalendarCard({ sales }: { sales: Sales }) {
  const mayPlan = useMay('plan');
  const queryClient = useQueryClient();
  const [adding, setAdding] = useState(false);
  const done = () => {
    for (const key of [keys.sales, keys.plan]) void queryClient.invalidateQueries({ queryKey: key });
  };
  const remove = useMutation({
    mutationFn: (id: number) => answer(client.DELETE('/api/v1/sales/calendar/{id}', { params: { path: { id } } })),
    onSuccess: done,
  });
  return (
    <Card title="Days unlike others" aside="events, closed days">
      {sales.calendar.length === 0 && <p>Mark festivals and closed days: they are kept out of what is usual.</p>}
      <ul className={classes.list} aria-label="Days unlike others">
        {sales.calendar.map((each) => (
          <li key={each.id}>
            <span>
              {each.kind === 'closed' ? `Closed${each.name && `: ${each.name}`}` : each.name}
              <span className={classes.small}>{inWords(each, sales)}</span>
            </span>
            {mayPlan && (
              <Button
                size="sm"
                variant="default"
                aria-label={`Delete ${each.name || 'closed'}, ${day(each.first)}`}
                onClick={() => remove.mutate(each.id)}
              >
                Delete
              </Button>
            )}
          </li>
        ))}
      </ul>
      {remove.error && <Notice tone="stop" text={remove.error.message} />}
      {mayPlan && !adding && (
        <Button size="sm" variant="default" mt="xs" onClick={() => setAdding(true)}>
          Add days
        </Button>
      )}
      {adding && <Add sales={sales} onDone={() => (setAdding(false), done())} onCancel={() => setAdding(false)} />}
    </Card>
  );
}

function inWords(each: CalendarEntry, sales: Sales): string {
  const days = each.first === each.last ? day(each.first) : `${day(each.first)} to ${day(each.last)}`;
  const place = sales.places.find((other) => other.id === each.place)?.name;
  return [days, place ?? 'everywhere', each.times ? `${figure(each.times, 2)} times as many` : '']
    .filter(Boolean)
    .join(' · ');
}

function Add({ sales, onDone, onCancel }: { sales: Sales; onDone: () => void; onCancel: () => void }) {
  const today = dayOf(new Date());
  const [typed, setTyped] = useState({ kind: 'event', name: '', first: today, last: today, place: '', times: '' });
  const put = (change: Partial<typeof typed>) => {
    save.reset();
    setTyped((before) => ({ ...before, ...change }));
  };
  const times = numberIn(typed.times, '', TIMES);
  const save = useMutation({
    mutationFn: () =>
      answer(
        client.POST('/api/v1/sales/calendar', {
          body: {
            kind: typed.kind === 'closed' ? 'closed' : 'event',
            name: typed.name,
            first: typed.first,
            last: typed.last,
            place: typed.place === '' ? null : Number(typed.place),
            times: typed.kind === 'event' ? times : null,
          },
        }),
      ),
    onSuccess: onDone,
  });
  const names = [...new Set(sales.calendar.filter((each) => each.kind === 'event').map((each) => each.name))];
  return (
    <div className={classes.fields}>
      <NativeSelect
        label="What"
        size="md"
        data={[
          { value: 'event', label: 'something goes on' },
          { value: 'closed', label: 'closed' },
        ]}
        value={typed.kind}
        onChange={(event) => put({ kind: event.currentTarget.value })}
      />
      <TextInput
        label="Name"
        size="md"
        list="events-before"
        description={typed.kind === 'event' ? 'The same name as last time, and its sales are compared.' : undefined}
        value={typed.name}
        maxLength={200}
        error={save.error?.itemFor('name')?.message}
        onChange={(event) => put({ name: event.currentTarget.value })}
      />
      <datalist id="events-before">
        {names.map((each) => (
          <option key={each} value={each} />
        ))}
      </datalist>
      <FromTo first={typed.first} last={typed.last} onPut={put} error={save.error?.itemFor('last')?.message} />
      <NativeSelect
        label="Place"
        size="md"
        data={[
          { value: '', label: 'everywhere' },
          ...sales.places.map((each) => ({ value: String(each.id), label: each.name })),
        ]}
        value={typed.place}
        onChange={(event) => put({ place: event.currentTarget.value })}
      />
      {typed.kind === 'event' && (
        <TextInput
          label="Times as many"
          size="md"
          inputMode="decimal"
          placeholder="1.5"
          description="Only until it was seen once."
          value={typed.times}
          error={wrongIn(typed.times, '', TIMES)}
          onChange={(event) => put({ times: event.currentTarget.value })}
        />
      )}
      <Button
        size="md"
        loading={save.isPending}
        disabled={typed.kind === 'event' && (!typed.name.trim() || (typed.times.trim() !== '' && times === null))}
        onClick={() => save.mutate()}
      >
        Save
      </Button>
      <Button size="md" variant="default" onClick={onCancel}>
        Cancel
      </Button>
      {save.error && save.error.items.length === 0 && <Notice tone="stop" text={save.error.message} />}
    </div>
  );
}
