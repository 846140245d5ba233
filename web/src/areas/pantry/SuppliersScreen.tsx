import { Button, TextInput } from '@mantine/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { answer, client } from '../../api/client';
import { keys, suppliersQuery } from '../../api/queries';
import type { Supplier } from '../../api/types';
import { useMay } from '../../app/person';
import { Card } from '../../parts/Card';
import { Notice } from '../../parts/Notice';
import { ScreenHead } from '../../parts/ScreenHead';
import classes from './Suppliers.module.css';

/** Whom the site buys from: how to reach them, two spellings put together. */
export function SuppliersScreen() {
  const found = useQuery(suppliersQuery);
  return (
    <>
      <ScreenHead title="Suppliers">
        <Button size="md" variant="default" component={Link} to="/pantry">
          Pantry
        </Button>
      </ScreenHead>
      {found.isError && <Notice tone="stop" text={found.error.message} />}
      {found.data && (
        <Card>
          {found.data.length === 0 && (
            <p>No supplier yet. Type one with a pack or a lot of an ingredient, and it stands here.</p>
          )}
          <ul className={classes.list} aria-label="Suppliers">
            {found.data.map((each) => (
              <Row key={each.id} supplier={each} />
            ))}
          </ul>
        </Card>
      )}
    </>
  );
}

function Row({ supplier }: { supplier: Supplier }) {
  const mayEdit = useMay('edit_pantry');
  const queryClient = useQueryClient();
  const [typed, setTyped] = useState<{ name: string; contact: string } | null>(null);
  const now = typed ?? supplier;
  const take = (rows: Supplier[]) => {
    queryClient.setQueryData(suppliersQuery.queryKey, rows);
    for (const key of [keys.substances, keys.money, keys.stock]) void queryClient.invalidateQueries({ queryKey: key });
    setTyped(null);
  };
  const path = { params: { path: { id: supplier.id } } };
  const save = useMutation({
    mutationFn: (together: boolean) =>
      answer(
        client.PUT('/api/v1/suppliers/{id}', { ...path, body: { name: now.name, contact: now.contact, together } }),
      ),
    onSuccess: take,
  });
  const archive = useMutation({
    mutationFn: () => answer(client.DELETE('/api/v1/suppliers/{id}', path)),
    onSuccess: take,
  });
  const change = (next: Partial<Supplier>) => {
    save.reset();
    setTyped({ name: now.name, contact: now.contact, ...next });
  };
  const changed = now.name.trim() !== supplier.name || now.contact.trim() !== supplier.contact;
  const twin = save.error?.itemFor('name');
  return (
    <li>
      <TextInput
        size="md"
        className={classes.name}
        label="Name"
        aria-label={`Name of ${supplier.name}`}
        value={now.name}
        maxLength={200}
        readOnly={!mayEdit}
        error={twin?.message}
        onChange={(event) => change({ name: event.currentTarget.value })}
      />
      <TextInput
        size="md"
        className={classes.contact}
        label="How to reach them"
        aria-label={`How to reach them: ${supplier.name}`}
        value={now.contact}
        maxLength={200}
        readOnly={!mayEdit}
        onChange={(event) => change({ contact: event.currentTarget.value })}
      />
      <span className={classes.small}>
        {count(supplier.packs, 'pack')}, {count(supplier.lots, 'lot')}
      </span>
      {mayEdit && (
        <span className={classes.presses}>
          {changed && (
            <Button size="md" disabled={!now.name.trim()} loading={save.isPending} onClick={() => save.mutate(false)}>
              Save
            </Button>
          )}
          {twin && (
            <Button size="md" variant="default" loading={save.isPending} onClick={() => save.mutate(true)}>
              Put the two together
            </Button>
          )}
          {!changed && (
            <Button
              size="md"
              variant="default"
              aria-label={`Archive ${supplier.name}`}
              loading={archive.isPending}
              onClick={() => archive.mutate()}
            >
              Archive
            </Button>
          )}
        </span>
      )}
      {save.error && !twin && <Notice tone="stop" text={save.error.message} />}
      {archive.error && <Notice tone="stop" text={archive.error.message} />}
    </li>
  );
}

const count = (n: number, word: string) => `${n} ${word}${n === 1 ? '' : 's'}`;
