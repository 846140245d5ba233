import { Button, NativeSelect, TextInput } from '@mantine/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, client } from '../../api/client';
import { barsQuery, keys, placesQuery } from '../../api/queries';
import type { Place } from '../../api/types';
import { useMay } from '../../app/person';
import { Card } from '../../parts/Card';
import { Notice } from '../../parts/Notice';
import classes from './PlacesCard.module.css';

/** Where bottles may stand: the kitchen that fills them, and the bars. */
export function PlacesCard() {
  const queryClient = useQueryClient();
  const places = useQuery(placesQuery);
  const mayEdit = useMay('edit_kitchen');
  const [name, setName] = useState('');
  const kept = (now: Place[]) => {
    queryClient.setQueryData(placesQuery.queryKey, now);
    void queryClient.invalidateQueries({ queryKey: keys.stock });
  };
  const path = (place: Place) => ({ params: { path: { place_id: place.id } } });
  const add = useMutation({
    mutationFn: () =>
      answer(client.POST('/api/v1/places', { body: { name, kitchen: (places.data ?? []).length === 0 } })),
    onSuccess: (now) => {
      setName('');
      kept(now);
    },
  });
  const save = useMutation({
    mutationFn: (place: Place) =>
      answer(client.PUT('/api/v1/places/{place_id}', { ...path(place), body: { name: place.name, kitchen: true } })),
    onSuccess: kept,
  });
  const archive = useMutation({
    mutationFn: (place: Place) => answer(client.DELETE('/api/v1/places/{place_id}', path(place))),
    onSuccess: kept,
  });
  const problem = places.error ?? add.error ?? save.error ?? archive.error;
  return (
    <Card title="Where bottles stand" aside="the kitchen, where they are filled, and the bars" className={classes.card}>
      {problem && <Notice tone="stop" text={problem.message} />}
      <ul className={classes.list} aria-label="Places">
        {places.data?.map((place) => (
          <li key={place.id}>
            <span>
              {place.name}
              {place.kitchen && <span className={classes.small}> kitchen</span>}
            </span>
            {mayEdit && !place.kitchen && (
              <>
                <Button
                  size="xs"
                  variant="default"
                  aria-label={`Make it the kitchen: ${place.name}`}
                  onClick={() => save.mutate(place)}
                >
                  Make it the kitchen
                </Button>
                <Button
                  size="xs"
                  variant="default"
                  aria-label={`Archive ${place.name}`}
                  onClick={() => archive.mutate(place)}
                >
                  Archive
                </Button>
              </>
            )}
          </li>
        ))}
      </ul>
      {places.data?.length === 0 && <p>No place yet. Name the kitchen first, then each bar.</p>}
      {mayEdit && <Bars places={places.data ?? []} />}
      {mayEdit && (
        <form
          className={classes.add}
          onSubmit={(event) => {
            event.preventDefault();
            if (name.trim()) add.mutate();
          }}
        >
          <TextInput
            label="New place"
            value={name}
            maxLength={200}
            onChange={(event) => setName(event.currentTarget.value)}
          />
          <Button type="submit" variant="default" disabled={!name.trim()} loading={add.isPending}>
            Add
          </Button>
        </form>
      )}
    </Card>
  );
}

/** Where each bar's own sign-in stands: it sees the bottles there. */
function Bars({ places }: { places: Place[] }) {
  const queryClient = useQueryClient();
  const bars = useQuery(barsQuery);
  const save = useMutation({
    mutationFn: ({ username, place }: { username: string; place: number | null }) =>
      answer(client.PUT('/api/v1/places/bars/{username}', { params: { path: { username } }, body: { place } })),
    onSuccess: (now) => queryClient.setQueryData(barsQuery.queryKey, now),
  });
  if (!bars.data || bars.data.length === 0) return null;
  return (
    <div className={classes.bars}>
      {save.isError && <Notice tone="stop" text={save.error.message} />}
      {bars.data.map((bar) => (
        <NativeSelect
          key={bar.username}
          label={`${bar.name} sees the bottles at`}
          value={bar.place === null ? '' : String(bar.place)}
          data={[
            { value: '', label: 'every place' },
            ...places.map((place) => ({ value: String(place.id), label: place.name })),
          ]}
          onChange={(event) =>
            save.mutate({
              username: bar.username,
              place: event.currentTarget.value ? Number(event.currentTarget.value) : null,
            })
          }
        />
      ))}
    </div>
  );
}
