import { Button, TextInput } from '@mantine/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { answer, client } from '../../api/client';
import { tillsQuery } from '../../api/queries';
import { useMay } from '../../app/person';
import { when } from '../../lib/format';
import { Card } from '../../parts/Card';
import { Notice } from '../../parts/Notice';
import classes from './plan.module.css';

/** Tills that say over the network what they sold. */
export function TillsCard() {
  const tills = useQuery(tillsQuery);
  const mayPlan = useMay('plan');
  const queryClient = useQueryClient();
  const navigate = useNavigate();
  const [typed, setTyped] = useState<{ name: string; address: string } | null>(null);
  const fetch = useMutation({
    mutationFn: (id: number) => answer(client.POST('/api/v1/sales/tills/{id}/fetch', { params: { path: { id } } })),
    onSuccess: (file) =>
      navigate('/plan/sales/import', { state: { name: file.name, base64: file.base64, origin: 'till' } }),
  });
  const save = useMutation({
    mutationFn: (body: { name: string; address: string }) => answer(client.POST('/api/v1/sales/tills', { body })),
    onSuccess: (rows) => {
      queryClient.setQueryData(tillsQuery.queryKey, rows);
      setTyped(null);
    },
  });
  const archive = useMutation({
    mutationFn: (id: number) => answer(client.DELETE('/api/v1/sales/tills/{id}', { params: { path: { id } } })),
    onSuccess: (rows) => queryClient.setQueryData(tillsQuery.queryKey, rows),
  });
  if (!tills.data || (tills.data.length === 0 && !mayPlan)) return null;
  return (
    <Card title="Tills">
      <ul className={classes.list} aria-label="Tills">
        {tills.data.map((each) => (
          <li key={each.id}>
            <span>
              {each.name}
              <span className={classes.small}>
                {each.fetched_at ? `fetched ${when(each.fetched_at)}` : 'never fetched'} · {each.address}
              </span>
            </span>
            {mayPlan && (
              <span className={classes.presses}>
                <Button
                  size="sm"
                  loading={fetch.isPending && fetch.variables === each.id}
                  onClick={() => fetch.mutate(each.id)}
                >
                  Fetch
                </Button>
                <Button
                  size="sm"
                  variant="default"
                  aria-label={`Archive ${each.name}`}
                  onClick={() => archive.mutate(each.id)}
                >
                  Archive
                </Button>
              </span>
            )}
          </li>
        ))}
      </ul>
      {(fetch.error ?? archive.error) && <Notice tone="stop" text={(fetch.error ?? archive.error)!.message} />}
      {mayPlan && !typed && (
        <Button size="sm" variant="default" mt="xs" onClick={() => setTyped({ name: '', address: 'http://' })}>
          Add a till
        </Button>
      )}
      {typed && (
        <div className={classes.fields}>
          <TextInput
            label="Name"
            size="md"
            maxLength={120}
            value={typed.name}
            error={save.error?.itemFor('name')?.message}
            onChange={(event) => setTyped({ ...typed, name: event.currentTarget.value })}
          />
          <TextInput
            label="Where it answers"
            size="md"
            maxLength={300}
            value={typed.address}
            error={save.error?.itemFor('address')?.message}
            onChange={(event) => setTyped({ ...typed, address: event.currentTarget.value })}
          />
          <Button size="md" disabled={!typed.name.trim()} loading={save.isPending} onClick={() => save.mutate(typed)}>
            Save
          </Button>
          <Button size="md" variant="default" onClick={() => setTyped(null)}>
            Cancel
          </Button>
        </div>
      )}
    </Card>
  );
}
