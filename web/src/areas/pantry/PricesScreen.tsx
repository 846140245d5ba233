import { Button, Checkbox, TextInput } from '@mantine/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { answer, client } from '../../api/client';
import { keys, pricesQuery } from '../../api/queries';
import type { PriceRow } from '../../api/types';
import { useMay } from '../../app/person';
import { figureIn } from '../../lib/figures';
import { day } from '../../lib/format';
import { useKept } from '../../lib/useKept';
import { symbolOf, useCurrency, useMoney } from '../../lib/useMoney';
import { Card } from '../../parts/Card';
import { Notice } from '../../parts/Notice';
import { ScreenHead } from '../../parts/ScreenHead';
import { SupplierField } from './SupplierField';
import classes from './Prices.module.css';

/** What is typed over a row, as it is typed. */
interface Typed {
  name?: string;
  supplier?: string;
  mass_g?: string;
  price?: string;
}
type Field = keyof Typed;

/** What ingredients cost, all in one table: typed over, then kept together. */
export function PricesScreen() {
  const prices = useQuery(pricesQuery);
  const typed = useKept<{ rows: Record<string, Typed> }>('prices', { rows: {} });
  const [words, setWords] = useState('');
  const [open, setOpen] = useState(false);
  const readOnly = !useMay('edit_pantry');
  const queryClient = useQueryClient();
  const rows = prices.data?.rows ?? [];
  const changed = rows.filter((row) => changes(row, typed.value.rows[row.substance]));
  const save = useMutation({
    mutationFn: (sent: PriceRow[]) =>
      answer(
        client.PUT('/api/v1/money/prices', {
          body: { rows: sent.map((row) => asSent(row, typed.value.rows[row.substance] ?? {})) },
        }),
      ),
    onSuccess: (out) => {
      typed.forget();
      queryClient.setQueryData(pricesQuery.queryKey, out);
      for (const key of [keys.substances, keys.drinks, keys.formulas, keys.money])
        void queryClient.invalidateQueries({ queryKey: key });
    },
  });
  const put = (row: PriceRow, field: Field, text: string) => {
    save.reset();
    typed.set((before) => ({
      rows: { ...before.rows, [row.substance]: { ...before.rows[row.substance], [field]: text } },
    }));
  };
  const asked = words.trim().toLowerCase().split(/\s+/);
  const shown = rows.filter(
    (row) =>
      (!open || row.price === null || typed.value.rows[row.substance]) &&
      asked.every((word) => row.title.toLowerCase().includes(word)),
  );
  const wrong = changed.filter((row) => complaint(row, typed.value.rows[row.substance]));
  return (
    <>
      <ScreenHead title="Prices">
        <Button size="md" variant="default" component="a" href="/api/v1/money/prices.csv">
          As a table
        </Button>
        {!readOnly && (
          <Button
            size="md"
            disabled={changed.length === 0 || wrong.length > 0}
            loading={save.isPending}
            onClick={() => save.mutate(changed)}
          >
            {changed.length === 0
              ? 'Save prices'
              : `Save ${changed.length} ${changed.length === 1 ? 'price' : 'prices'}`}
          </Button>
        )}
      </ScreenHead>
      {prices.isError && <Notice tone="stop" text={prices.error.message} />}
      {save.isError && save.error.items.length === 0 && <Notice tone="stop" text={save.error.message} />}
      {save.isSuccess && changed.length === 0 && (
        <Notice tone="fine" text="Saved. What it changes stands under Costs." />
      )}
      {prices.data && (
        <Card>
          <div className={classes.tools}>
            <TextInput
              aria-label="Find an ingredient"
              placeholder="First letters of a name"
              size="md"
              value={words}
              onChange={(event) => setWords(event.currentTarget.value)}
            />
            <Checkbox
              size="md"
              label={`Only without a price (${prices.data.without} in use)`}
              checked={open}
              onChange={(event) => setOpen(event.currentTarget.checked)}
            />
            <Link to="/costs">Costs</Link>
          </div>
          {rows.length === 0 ? (
            <p>Nothing is used yet. Ingredients of your formulas and drinks come up here with their packs.</p>
          ) : (
            <div className={classes.wide} data-sideways="">
              <table className={classes.table}>
                <thead>
                  <tr>
                    <th scope="col">Ingredient</th>
                    <th scope="col">Bought as</th>
                    <th scope="col" className={classes.supplier}>
                      Supplier
                    </th>
                    <th scope="col">Grams in it</th>
                    <th scope="col">Price</th>
                    <th scope="col">A kilogram</th>
                  </tr>
                </thead>
                <tbody>
                  {shown.map((row) => (
                    <Row
                      key={row.substance}
                      row={row}
                      typed={typed.value.rows[row.substance]}
                      refused={refusedAt(save.error?.items, changed.indexOf(row))}
                      readOnly={readOnly}
                      onPut={(field, text) => put(row, field, text)}
                    />
                  ))}
                </tbody>
              </table>
              {shown.length === 0 && <p>{open ? 'All of these have a price.' : 'Nothing by that name.'}</p>}
            </div>
          )}
          {changed.length > 0 && !readOnly && (
            <Button mt={10} variant="default" onClick={() => typed.forget()}>
              Discard what is typed
            </Button>
          )}
        </Card>
      )}
    </>
  );
}

interface RowProps {
  row: PriceRow;
  typed: Typed | undefined;
  refused: string | undefined;
  readOnly: boolean;
  onPut: (field: Field, text: string) => void;
}

function Row({ row, typed, refused, readOnly, onPut }: RowProps) {
  const money = useMoney();
  const currency = useCurrency();
  const wrong = refused ?? complaint(row, typed);
  const now = perKg(row, typed);
  const old = changes(row, typed) ? row.price_per_kg : row.before;
  const cell = (field: Field, label: string, unit = '') => (
    <td className={classes[field]}>
      <TextInput
        size="md"
        aria-label={`${label} of ${row.title}`}
        value={typed?.[field] ?? shownText(row, field)}
        placeholder={field === 'name' ? 'Pack' : undefined}
        readOnly={readOnly}
        autoComplete="off"
        inputMode={field === 'mass_g' || field === 'price' ? 'decimal' : 'text'}
        rightSection={unit ? <span className={classes.unit}>{unit}</span> : undefined}
        onChange={(event) => onPut(field, event.currentTarget.value)}
      />
    </td>
  );
  return (
    <tr data-changed={changes(row, typed) || undefined}>
      <th scope="row">
        <Link to={`/pantry/${row.substance}`}>{row.title}</Link>
        <span className={classes.small}>
          {row.used_in === 0 ? 'not in use' : `used in ${row.used_in}`}
          {row.since && `, since ${day(row.since)}`}
        </span>
        {wrong && (
          <span className={classes.wrong} role="alert">
            {wrong}
          </span>
        )}
      </th>
      {cell('name', 'Pack')}
      <td className={classes.supplier}>
        <SupplierField
          size="md"
          aria-label={`Supplier of ${row.title}`}
          value={typed?.supplier ?? shownText(row, 'supplier')}
          readOnly={readOnly}
          onChange={(name) => onPut('supplier', name)}
        />
      </td>
      {cell('mass_g', 'Grams in the pack', 'g')}
      {cell('price', 'Price', currency ? symbolOf(currency).trim() : '')}
      <td className={classes.each}>
        {now === null ? '—' : money(now)}
        {old !== null && now !== null && Math.abs(now - old) >= 0.005 && (
          <span className={classes.small}>was {money(old)}</span>
        )}
      </td>
    </tr>
  );
}

/** What is kept, as it stands in the field: prices with their cents. */
function shownText(row: PriceRow, field: Field): string {
  return field === 'price' && row.price !== null ? cents(row.price) : asText(row[field]);
}

/** “4.80”, and all that was entered of a finer one. */
function cents(value: number): string {
  const text = value.toFixed(2);
  return Number(text) === value ? text : String(value);
}

function asText(value: string | number | null): string {
  return value === null ? '' : String(value);
}

/** Whether something else stands in the row than is kept. */
function changes(row: PriceRow, typed: Typed | undefined): boolean {
  if (!typed) return false;
  return (Object.keys(typed) as Field[]).some(
    (field) => ![asText(row[field]), shownText(row, field)].includes((typed[field] ?? '').trim()),
  );
}

const massOf = (row: PriceRow, typed: Typed | undefined) => figureIn(typed?.mass_g ?? asText(row.mass_g), 'g');
/** A price as people write it: with the sign of a currency or without. */
const priceOf = (row: PriceRow, typed: Typed | undefined) =>
  figureIn((typed?.price ?? asText(row.price)).replace(/\p{Sc}|\b[A-Za-z]{3}\b/gu, ''), '');

function perKg(row: PriceRow, typed: Typed | undefined): number | null {
  const mass = massOf(row, typed).value;
  const price = priceOf(row, typed).value;
  return mass != null && mass > 0 && price != null && price >= 0 ? (1000 * price) / mass : null;
}

/** What is still missing or cannot be, once somebody began to type. */
function complaint(row: PriceRow, typed: Typed | undefined): string | undefined {
  if (!changes(row, typed)) return undefined;
  const mass = massOf(row, typed);
  const price = priceOf(row, typed);
  const none = (text: string | undefined, kept: number | null) => (text ?? asText(kept)).trim() === '';
  if (none(typed?.mass_g, row.mass_g)) return 'Say how many grams are in the pack.';
  if (mass.wrong) return `Grams: ${mass.wrong}`;
  if (!(mass.value! > 0)) return 'A pack holds more than nothing.';
  if (none(typed?.price, row.price)) return 'Say what the pack costs.';
  if (price.wrong) return `Price: ${price.wrong}`;
  if (price.value! < 0) return 'A price is not below nothing.';
  return undefined;
}

function asSent(row: PriceRow, typed: Typed) {
  return {
    substance: row.substance,
    name: (typed.name ?? row.name ?? '').trim() || 'Pack',
    supplier: (typed.supplier ?? row.supplier ?? '').trim(),
    mass_g: massOf(row, typed).value ?? 0,
    price: priceOf(row, typed).value ?? 0,
  };
}

/** What the server says of one of the rows that were sent. */
function refusedAt(items: { field: string; message: string }[] | undefined, at: number): string | undefined {
  return at < 0 ? undefined : items?.find((each) => each.field.startsWith(`rows.${at}.`))?.message;
}
