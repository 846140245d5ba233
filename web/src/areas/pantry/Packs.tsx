import { ActionIcon, Button, TextInput } from '@mantine/core';
import { IconX } from '@tabler/icons-react';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { type FormEvent, useState } from 'react';
import { answer, client } from '../../api/client';
import { keys, substanceQuery, suppliersQuery } from '../../api/queries';
import type { Substance } from '../../api/types';
import { useMay } from '../../app/person';
import { figure } from '../../lib/format';
import { valueIn, wrongIn } from '../../lib/figures';
import { useMoney } from '../../lib/useMoney';
import { Card } from '../../parts/Card';
import { Notice } from '../../parts/Notice';
import { SupplierField } from './SupplierField';
import classes from './Pantry.module.css';

/** What is wrong with what is typed, of the fields that are figures. */
const WRONG: Record<string, (typed: string) => string | undefined> = {
  mass_g: (typed) => wrongIn(typed, 'g', { above: 0, high: 1_000_000 }),
  price: (typed) => wrongIn(typed, '', { low: 0, high: 1_000_000 }),
};

const EMPTY = { name: '', supplier: '', mass_g: '', price: '', since: '' };

/** What an ingredient is bought in and for how much; the newest gives its price. */
export function Packs({ substance }: { substance: Substance }) {
  const money = useMoney();
  const mayEdit = useMay('edit_pantry');
  const queryClient = useQueryClient();
  const [going, setGoing] = useState<number | null>(null);
  const [adding, setAdding] = useState(false);
  const [typed, setTyped] = useState(EMPTY);
  const take = (now: Substance) => {
    queryClient.setQueryData(substanceQuery(substance.id).queryKey, now);
    void queryClient.invalidateQueries({ queryKey: [...keys.substances, 'shelf'] });
    void queryClient.invalidateQueries({ queryKey: suppliersQuery.queryKey });
  };
  const path = { params: { path: { key: substance.id } } };
  const add = useMutation({
    mutationFn: () =>
      answer(
        client.POST('/api/v1/substances/{key}/packs', {
          ...path,
          body: {
            name: typed.name,
            supplier: typed.supplier,
            mass_g: valueIn(typed.mass_g, 'g'),
            price: valueIn(typed.price, ''),
            since: typed.since || null,
          },
        }),
      ),
    onSuccess: (now) => {
      take(now);
      setTyped(EMPTY);
      setAdding(false);
    },
  });
  const remove = useMutation({
    mutationFn: (pack: number) =>
      answer(
        client.DELETE('/api/v1/substances/{key}/packs/{pack_id}', {
          params: { path: { key: substance.id, pack_id: pack } },
        }),
      ),
    onSuccess: (now) => {
      take(now);
      setGoing(null);
    },
  });
  const field = (name: keyof typeof EMPTY, label: string, more: object = {}) => (
    <TextInput
      label={label}
      value={typed[name]}
      error={WRONG[name]?.(typed[name]) ?? add.error?.itemFor(name)?.message}
      onChange={(event) => setTyped({ ...typed, [name]: event.currentTarget.value })}
      {...more}
    />
  );
  const price = substance.document.price_per_kg;
  const fits = typed.name.trim() !== '' && valueIn(typed.mass_g, 'g') > 0 && valueIn(typed.price, '') >= 0;
  return (
    <Card title="Packs and price" aside={price != null ? `${money(price)} per kg` : 'no price yet'}>
      {remove.error && <Notice tone="stop" text={remove.error.message} />}
      {substance.packs.length > 0 && (
        <div className={classes.scroll}>
          <table className={classes.table}>
            <thead>
              <tr>
                <th scope="col">Pack</th>
                <th scope="col">From</th>
                <th scope="col">Since</th>
                <td>Holds</td>
                <td>Price</td>
                <td>Per kg</td>
                <td />
              </tr>
            </thead>
            <tbody>
              {substance.packs.map((pack) => (
                <tr key={pack.id}>
                  <th scope="row">{pack.name}</th>
                  <td data-words>{pack.supplier}</td>
                  <td data-words>{pack.since}</td>
                  <td>
                    {figure(pack.mass_g)} <span className={classes.unit}>g</span>
                  </td>
                  <td>{money(pack.price)}</td>
                  <td>{money((1000 * pack.price) / pack.mass_g)}</td>
                  <td>
                    {mayEdit && going !== pack.id && (
                      <ActionIcon
                        variant="subtle"
                        color="gray"
                        size={32}
                        aria-label={`Remove ${pack.name}`}
                        onClick={() => setGoing(pack.id)}
                      >
                        <IconX size={15} />
                      </ActionIcon>
                    )}
                    {going === pack.id && (
                      <Button.Group>
                        <Button
                          size="xs"
                          color="red"
                          autoFocus
                          loading={remove.isPending}
                          onClick={() => remove.mutate(pack.id)}
                        >
                          Remove it
                        </Button>
                        <Button size="xs" variant="default" onClick={() => setGoing(null)}>
                          Cancel
                        </Button>
                      </Button.Group>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {substance.packs.length === 0 && !adding && (
        <p className={classes.quiet}>With what a pack costs, formulas can say what they cost.</p>
      )}
      {mayEdit && !adding && (
        <Button mt={6} variant="default" onClick={() => setAdding(true)}>
          Add a pack
        </Button>
      )}
      {adding && (
        <form
          className={classes.form}
          onSubmit={(event: FormEvent) => {
            event.preventDefault();
            if (fits) add.mutate();
          }}
        >
          {field('name', 'Pack', { placeholder: '10 kg sack', autoFocus: true })}
          <SupplierField
            label="From"
            value={typed.supplier}
            error={add.error?.itemFor('supplier')?.message}
            onChange={(supplier) => setTyped({ ...typed, supplier })}
          />
          {field('mass_g', 'Holds, in g', { inputMode: 'decimal' })}
          {field('price', 'Price', { inputMode: 'decimal' })}
          {field('since', 'Since', { type: 'date' })}
          <div className={`${classes.buttons} ${classes.wide}`}>
            <Button type="submit" loading={add.isPending} disabled={!fits}>
              Save
            </Button>
            <Button variant="default" onClick={() => setAdding(false)}>
              Cancel
            </Button>
            {add.error && <span role="alert">{add.error.message}</span>}
          </div>
        </form>
      )}
    </Card>
  );
}
