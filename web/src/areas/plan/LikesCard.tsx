import { Button, Checkbox, NativeSelect, TextInput } from '@mantine/core';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, client } from '../../api/client';
import { forecastQuery, keys } from '../../api/queries';
import type { Forecast } from '../../api/types';
import { useMay } from '../../app/person';
import { numberIn, wrongIn } from '../../lib/figures';
import { figure } from '../../lib/format';
import { Card } from '../../parts/Card';
import { Notice } from '../../parts/Notice';
import classes from './plan.module.css';

const SHARE = { above: 0, high: 1000 };

/** New drinks, of which nothing is known: taken to sell as a share of another. */
export function LikesCard({ forecast, ahead }: { forecast: Forecast; ahead: number }) {
  const mayPlan = useMay('plan');
  const queryClient = useQueryClient();
  const sold = new Set(forecast.report.cells.filter((each) => each.by !== 'like').map((each) => each.drink));
  const [typed, setTyped] = useState({ drink: '', like: '', percent: '', instead: false });
  const share = numberIn(typed.percent, '%', SHARE);
  const take = (out: Forecast) => {
    queryClient.setQueryData(forecastQuery(ahead).queryKey, out);
    void queryClient.invalidateQueries({ queryKey: keys.plan });
    setTyped({ drink: '', like: '', percent: '', instead: false });
  };
  const save = useMutation({
    mutationFn: () =>
      answer(
        client.PUT('/api/v1/plan/likes', {
          params: { query: { ahead } },
          body: { drink: typed.drink, like: typed.like, share: (share ?? 0) / 100, instead: typed.instead },
        }),
      ),
    onSuccess: take,
  });
  const stop = useMutation({
    mutationFn: (drink: string) =>
      answer(
        client.DELETE('/api/v1/plan/likes/{drink_id}', { params: { path: { drink_id: drink }, query: { ahead } } }),
      ),
    onSuccess: take,
  });
  const name = (id: string) => forecast.drinks.find((each) => each.id === id)?.name ?? 'A drink';
  const news = forecast.drinks.filter(
    (each) => !sold.has(each.id) && !forecast.likes.some((like) => like.drink === each.id),
  );
  if (forecast.likes.length === 0 && (news.length === 0 || !mayPlan)) return null;
  return (
    <Card title="New drinks" aside="until 14 days of their own are known">
      {forecast.likes.length > 0 && (
        <ul className={classes.list} aria-label="New drinks">
          {forecast.likes.map((each) => (
            <li key={each.drink}>
              <span>
                {name(each.drink)}: {figure(100 * each.share)} % of {name(each.like)}
                {each.instead && <span className={classes.small}>which sells so much less</span>}
              </span>
              {mayPlan && (
                <Button
                  size="sm"
                  variant="default"
                  aria-label={`Undo: ${name(each.drink)} like ${name(each.like)}`}
                  onClick={() => stop.mutate(each.drink)}
                >
                  Undo
                </Button>
              )}
            </li>
          ))}
        </ul>
      )}
      {mayPlan && news.length > 0 && (
        <div className={classes.fields}>
          <NativeSelect
            label="New drink"
            size="md"
            data={[{ value: '', label: 'choose' }, ...news.map((each) => ({ value: each.id, label: each.name }))]}
            value={typed.drink}
            onChange={(event) => setTyped({ ...typed, drink: event.currentTarget.value })}
          />
          <NativeSelect
            label="Sells like"
            size="md"
            data={[
              { value: '', label: 'choose' },
              ...forecast.drinks
                .filter((each) => sold.has(each.id))
                .map((each) => ({ value: each.id, label: each.name })),
            ]}
            value={typed.like}
            onChange={(event) => setTyped({ ...typed, like: event.currentTarget.value })}
          />
          <TextInput
            label="Share [%]"
            size="md"
            inputMode="decimal"
            placeholder="40"
            value={typed.percent}
            error={wrongIn(typed.percent, '%', SHARE)}
            onChange={(event) => setTyped({ ...typed, percent: event.currentTarget.value })}
          />
          <Checkbox
            size="md"
            label="The other sells so much less"
            checked={typed.instead}
            onChange={(event) => setTyped({ ...typed, instead: event.currentTarget.checked })}
          />
          <Button
            size="md"
            disabled={!typed.drink || !typed.like || share === null}
            loading={save.isPending}
            onClick={() => save.mutate()}
          >
            Save
          </Button>
        </div>
      )}
      {(save.error ?? stop.error) && <Notice tone="stop" text={(save.error ?? stop.error)!.message} />}
    </Card>
  );
}
