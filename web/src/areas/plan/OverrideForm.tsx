import { Button, NativeSelect, TextInput } from '@mantine/core';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, client } from '../../api/client';
import { forecastQuery, keys } from '../../api/queries';
import type { Forecast } from '../../api/types';
import { numberIn, wrongIn } from '../../lib/figures';
import { Card } from '../../parts/Card';
import { Notice } from '../../parts/Notice';
import { FromTo } from './FromTo';
import classes from './plan.module.css';

/** Says what days to come will bring, and why. */
export function OverrideForm({ forecast, drink, ahead }: { forecast: Forecast; drink: string; ahead: number }) {
  const queryClient = useQueryClient();
  const first = forecast.report.on[1] ?? forecast.report.on[0] ?? '';
  const empty = { first, last: first, place: '', drink, size: '', how: 'times', much: '', reason: '' };
  const [typed, setTyped] = useState(empty);
  const put = (change: Partial<typeof empty>) => {
    save.reset();
    setTyped((before) => ({ ...before, ...change }));
  };
  const bounds = typed.how === 'times' ? { low: 0, high: 20 } : { low: 0, high: 1_000_000 };
  const much = numberIn(typed.much, '', bounds);
  const save = useMutation({
    mutationFn: () =>
      answer(
        client.POST('/api/v1/plan/overrides', {
          params: { query: { ahead } },
          body: {
            first: typed.first,
            last: typed.last,
            place: typed.place === '' ? null : Number(typed.place),
            drink: typed.drink || null,
            size: typed.size || null,
            times: typed.how === 'times' ? much : null,
            count: typed.how === 'count' ? much : null,
            reason: typed.reason.trim(),
          },
        }),
      ),
    onSuccess: (out) => {
      queryClient.setQueryData(forecastQuery(ahead).queryKey, out);
      void queryClient.invalidateQueries({ queryKey: keys.plan });
      setTyped(empty);
    },
  });
  const sizes = forecast.drinks.find((each) => each.id === typed.drink)?.sizes ?? [];
  return (
    <Card title="You know better" aside="a party, a school holiday, rain">
      <div className={classes.fields}>
        <FromTo first={typed.first} last={typed.last} onPut={put} />
        <NativeSelect
          label="Drink"
          size="md"
          data={[
            { value: '', label: 'all drinks' },
            ...forecast.drinks.map((each) => ({ value: each.id, label: each.name })),
          ]}
          value={typed.drink}
          onChange={(event) => put({ drink: event.currentTarget.value, size: '' })}
        />
        {typed.drink && (
          <NativeSelect
            label="Size"
            size="md"
            data={[{ value: '', label: 'all sizes' }, ...sizes.map((each) => ({ value: each.id, label: each.name }))]}
            value={typed.size}
            onChange={(event) => put({ size: event.currentTarget.value })}
          />
        )}
        <NativeSelect
          label="Place"
          size="md"
          data={[
            { value: '', label: 'all places' },
            ...forecast.places.map((each) => ({ value: String(each.id), label: each.name })),
          ]}
          value={typed.place}
          onChange={(event) => put({ place: event.currentTarget.value })}
        />
        <NativeSelect
          label="Will be"
          size="md"
          data={[
            { value: 'times', label: 'times as many' },
            { value: 'count', label: 'so many a day' },
          ]}
          value={typed.how}
          onChange={(event) => put({ how: event.currentTarget.value })}
        />
        <TextInput
          label={typed.how === 'times' ? 'How many times' : 'How many a day'}
          size="md"
          inputMode="decimal"
          placeholder={typed.how === 'times' ? '1.5' : '120'}
          value={typed.much}
          error={wrongIn(typed.much, '', bounds)}
          onChange={(event) => put({ much: event.currentTarget.value })}
        />
        <TextInput
          label="Why"
          size="md"
          maxLength={500}
          value={typed.reason}
          onChange={(event) => put({ reason: event.currentTarget.value })}
        />
        <Button
          size="md"
          disabled={much === null || !typed.reason.trim()}
          loading={save.isPending}
          onClick={() => save.mutate()}
        >
          Save
        </Button>
      </div>
      {save.error && <Notice tone="stop" text={save.error.message} />}
    </Card>
  );
}
