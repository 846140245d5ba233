import { Button, Checkbox, NativeSelect, TextInput } from '@mantine/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, client } from '../../api/client';
import { keys, salesDayQuery } from '../../api/queries';
import type { Sales } from '../../api/types';
import { useMay } from '../../app/person';
import { day, figure } from '../../lib/format';
import { numberIn, wrongIn } from '../../lib/figures';
import { Notice } from '../../parts/Notice';
import { SideDrawer } from '../../parts/SideDrawer';
import classes from './plan.module.css';

interface SalesDayDrawerProps {
  sales: Sales;
  open: { on: string; place: number } | null;
  onClose: () => void;
}

/** One day of a place: every drink and size, and a count that is wrong put right. */
export function SalesDayDrawer({ sales, open, onClose }: SalesDayDrawerProps) {
  const place = sales.places.find((each) => each.id === open?.place);
  return (
    <SideDrawer
      opened={open !== null}
      title={open ? `${place?.name ?? ''}, ${day(open.on)}` : ''}
      closeLabel="Close the day"
      width={520}
      onClose={onClose}
    >
      {open && <Day key={`${open.on} ${open.place}`} sales={sales} on={open.on} place={open.place} />}
    </SideDrawer>
  );
}

function Day({ sales, on, place }: { sales: Sales; on: string; place: number }) {
  const found = useQuery(salesDayQuery(on, place));
  const mayPlan = useMay('plan');
  if (found.error) return <Notice tone="stop" text={found.error.message} />;
  if (!found.data) return null;
  const rows = sales.drinks
    .map((drink) => ({
      drink,
      counts: drink.sizes.map((size) => found.data.rows.find((row) => row.drink === drink.id && row.size === size.id)),
    }))
    .filter((each) => each.counts.some(Boolean));
  const sizes = sales.drinks[0]?.sizes ?? [];
  return (
    <div className={classes.column}>
      {!found.data.known && <p>Nobody knows what was sold here on this day.</p>}
      {rows.length > 0 && (
        <div className={classes.wide} data-sideways="">
          <table className={classes.table} aria-label="Sold">
            <thead>
              <tr>
                <th scope="col">Drink</th>
                {sizes.map((size) => (
                  <th key={size.id} scope="col">
                    {size.name}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {rows.map(({ drink, counts }) => (
                <tr key={drink.id}>
                  <th scope="row">{drink.name}</th>
                  {counts.map((row, n) => (
                    <td key={n} className={row?.by_hand ? classes.changed : undefined}>
                      {row ? figure(row.count) : '—'}
                      {row?.sold_out && <span className={classes.small}>sold out</span>}
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {mayPlan && <Correct sales={sales} on={on} place={place} />}
    </div>
  );
}

const CUPS = { low: 0, high: 100_000, whole: true };

/** A count as it should be, and why. */
function Correct({ sales, on, place }: { sales: Sales; on: string; place: number }) {
  const queryClient = useQueryClient();
  const [typed, setTyped] = useState({ drink: '', size: '', count: '', soldOut: false, reason: '' });
  const drink = sales.drinks.find((each) => each.id === typed.drink);
  const count = numberIn(typed.count, '', CUPS);
  const save = useMutation({
    mutationFn: () =>
      answer(
        client.POST('/api/v1/sales/corrections', {
          body: {
            on,
            place,
            drink: typed.drink,
            size: typed.size,
            count: count ?? 0,
            sold_out: typed.soldOut,
            reason: typed.reason.trim(),
          },
        }),
      ),
    onSuccess: (out) => {
      queryClient.setQueryData(salesDayQuery(on, place).queryKey, out);
      for (const key of [keys.sales, keys.plan]) void queryClient.invalidateQueries({ queryKey: key });
      setTyped({ drink: '', size: '', count: '', soldOut: false, reason: '' });
    },
  });
  return (
    <section aria-label="Correct a count">
      <h3>Correct a count</h3>
      <div className={classes.fields}>
        <NativeSelect
          label="Drink"
          size="md"
          data={[{ value: '', label: 'choose' }, ...sales.drinks.map((each) => ({ value: each.id, label: each.name }))]}
          value={typed.drink}
          onChange={(event) => setTyped({ ...typed, drink: event.currentTarget.value, size: '' })}
        />
        <NativeSelect
          label="Size"
          size="md"
          disabled={!drink}
          data={[
            { value: '', label: 'choose' },
            ...(drink?.sizes ?? []).map((each) => ({ value: each.id, label: each.name })),
          ]}
          value={typed.size}
          onChange={(event) => setTyped({ ...typed, size: event.currentTarget.value })}
        />
        <TextInput
          label="Sold"
          size="md"
          inputMode="numeric"
          value={typed.count}
          error={wrongIn(typed.count, '', CUPS)}
          onChange={(event) => setTyped({ ...typed, count: event.currentTarget.value })}
        />
        <TextInput
          label="Why"
          size="md"
          maxLength={500}
          value={typed.reason}
          onChange={(event) => setTyped({ ...typed, reason: event.currentTarget.value })}
        />
        <Checkbox
          size="md"
          label="Sold out: more would have been sold"
          checked={typed.soldOut}
          onChange={(event) => setTyped({ ...typed, soldOut: event.currentTarget.checked })}
        />
        <Button
          size="md"
          disabled={!typed.drink || !typed.size || count === null || !typed.reason.trim()}
          loading={save.isPending}
          onClick={() => save.mutate()}
        >
          Save
        </Button>
      </div>
      {save.error && <Notice tone="stop" text={save.error.message} />}
    </section>
  );
}
