import { Button, TextInput } from '@mantine/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, client } from '../../api/client';
import { keys, placesQuery } from '../../api/queries';
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
