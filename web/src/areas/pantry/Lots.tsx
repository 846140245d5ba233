import { Button, Modal, TextInput } from '@mantine/core';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { type FormEvent, useState } from 'react';
import { Link } from 'react-router';
import { answer, client } from '../../api/client';
import { substanceQuery, suppliersQuery } from '../../api/queries';
import type { LotOut, Substance } from '../../api/types';
import { useMay } from '../../app/person';
import { dayOf, figure, range } from '../../lib/format';
import { valueIn, wrongIn } from '../../lib/figures';
import { Card } from '../../parts/Card';
import { GrowingText } from '../../parts/GrowingText';
import { SupplierField } from './SupplierField';
import classes from './Pantry.module.css';

/** Lots side by side, so that a choice between them can be argued. */
export function Lots({ substance }: { substance: Substance }) {
  const mayKeep = useMay('keep_lots');
  const [open, setOpen] = useState<LotOut | 'new' | null>(null);
  const [all, setAll] = useState(false);
  const lots = substance.lots.filter((lot) => all || !lot.used_up_on);
  const gone = substance.lots.length - substance.lots.filter((lot) => !lot.used_up_on).length;
  const rows: [string, (lot: LotOut) => string][] = [
    ['From', (lot) => [lot.supplier, lot.origin].filter(Boolean).join(', ') || '—'],
    [
      'Came',
      (lot) =>
        [lot.received_on, lot.mass_g == null ? null : `${figure(lot.mass_g)} g`].filter(Boolean).join(', ') || '—',
    ],
    ['Opened', (lot) => lot.opened_on ?? 'not yet'],
    ['Good until', (lot) => lot.good_until ?? '—'],
    ['because', (lot) => lot.good_until_why],
    ['Tasting notes', (lot) => lot.tasting_notes || '—'],
    ...(substance.document.strength
      ? [
          ['Strength against sweet bark', (lot: LotOut) => loudness(lot, substance)] as [
            string,
            (lot: LotOut) => string,
          ],
        ]
      : []),
    ['°Brix, measured', (lot) => (lot.brix === null ? '—' : figure(lot.brix, 1))],
    ['pH, measured', (lot) => (lot.ph === null ? '—' : figure(lot.ph, 2))],
  ];
  return (
    <Card title="Lots" aside={lots.length > 1 ? 'side by side' : undefined}>
      {lots.length > 0 && (
        <div className={classes.scroll}>
          <table className={classes.table}>
            <thead>
              <tr>
                <th scope="col">Lot</th>
                {lots.map((lot) => (
                  <th key={lot.id} scope="col">
                    {lot.code}
                    {lot.used_up_on ? ', used up' : ''}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {rows.map(([name, words]) => (
                <tr key={name}>
                  <th scope="row">{name}</th>
                  {lots.map((lot) => (
                    <td key={lot.id} data-words>
                      {words(lot)}
                    </td>
                  ))}
                </tr>
              ))}
              <tr>
                <th scope="row">In which bottles</th>
                {lots.map((lot) => (
                  <td key={lot.id} data-words>
                    <Link
                      to={`/bottles/recall?ingredient=${substance.id}&lot=${encodeURIComponent(lot.code)}`}
                      aria-label={`Where it went: lot ${lot.code}`}
                    >
                      Where it went
                    </Link>
                  </td>
                ))}
              </tr>
              {mayKeep && (
                <tr>
                  <th scope="row" />
                  {lots.map((lot) => (
                    <td key={lot.id} data-words>
                      <Button
                        size="xs"
                        variant="default"
                        aria-label={`What is new of lot ${lot.code}`}
                        onClick={() => setOpen(lot)}
                      >
                        What is new
                      </Button>
                    </td>
                  ))}
                </tr>
              )}
            </tbody>
          </table>
        </div>
      )}
      {lots.length === 0 && (
        <p className={classes.quiet}>
          No lot is written down. With two of them, their notes and strengths stand side by side.
        </p>
      )}
      <div className={classes.buttons}>
        {mayKeep && (
          <Button variant="default" onClick={() => setOpen('new')}>
            Add a lot
          </Button>
        )}
        {gone > 0 && (
          <Button variant="subtle" onClick={() => setAll(!all)}>
            {all ? 'Hide what is used up' : `Show ${gone} used up`}
          </Button>
        )}
      </div>
      <Modal
        opened={open !== null}
        onClose={() => setOpen(null)}
        title={open === 'new' ? `A lot of ${substance.document.title.toLowerCase()} came` : `Lot ${open?.code ?? ''}`}
        size="lg"
      >
        {open !== null && (
          <LotForm substance={substance} lot={open === 'new' ? null : open} onDone={() => setOpen(null)} />
        )}
      </Modal>
    </Card>
  );
}

/** How loud a lot was found, or what the table says where nobody tasted it. */
function loudness(lot: LotOut, substance: Substance): string {
  const known = lot.strength ?? substance.document.strength;
  if (!known) return '—';
  return `${range(known.low, known.high, 1)} times${lot.strength ? '' : ', by the table'}`;
}

const UNIT_OF = { mass_g: 'g', low: '', high: '', brix: '°Bx', ph: 'pH' };
const BOUNDS = {
  mass_g: { above: 0 },
  low: { above: 0 },
  high: { above: 0 },
  brix: { low: 0, high: 100 },
  ph: { low: 0, high: 14 },
};

function LotForm({ substance, lot, onDone }: { substance: Substance; lot: LotOut | null; onDone: () => void }) {
  const queryClient = useQueryClient();
  const [typed, setTyped] = useState({
    code: lot?.code ?? '',
    supplier: lot?.supplier ?? '',
    origin: lot?.origin ?? '',
    mass_g: lot?.mass_g != null ? String(lot.mass_g) : '',
    received_on: lot?.received_on ?? (lot ? '' : dayOf(new Date())),
    opened_on: lot?.opened_on ?? '',
    best_before: lot?.best_before ?? '',
    used_up_on: lot?.used_up_on ?? '',
    tasting_notes: lot?.tasting_notes ?? '',
    low: lot?.strength ? String(lot.strength.low) : '',
    high: lot?.strength ? String(lot.strength.high) : '',
    brix: lot?.brix != null ? String(lot.brix) : '',
    ph: lot?.ph != null ? String(lot.ph) : '',
  });
  const optional = (name: 'low' | 'high' | 'brix' | 'ph' | 'mass_g') =>
    typed[name].trim() === '' ? null : valueIn(typed[name], UNIT_OF[name]);
  const [low, high] = [optional('low'), optional('high')];
  const body = {
    code: typed.code,
    supplier: typed.supplier,
    origin: typed.origin,
    mass_g: optional('mass_g'),
    received_on: typed.received_on || null,
    opened_on: typed.opened_on || null,
    best_before: typed.best_before || null,
    used_up_on: typed.used_up_on || null,
    tasting_notes: typed.tasting_notes,
    // One figure is a range of nothing.
    strength: low === null && high === null ? null : { low: (low ?? high)!, high: (high ?? low)! },
    brix: optional('brix'),
    ph: optional('ph'),
  };
  const save = useMutation({
    mutationFn: () =>
      lot
        ? answer(
            client.PUT('/api/v1/substances/{key}/lots/{lot_id}', {
              params: { path: { key: substance.id, lot_id: lot.id } },
              body,
            }),
          )
        : answer(client.POST('/api/v1/substances/{key}/lots', { params: { path: { key: substance.id } }, body })),
    onSuccess: (now) => {
      queryClient.setQueryData(substanceQuery(substance.id).queryKey, now);
      void queryClient.invalidateQueries({ queryKey: suppliersQuery.queryKey });
      onDone();
    },
  });
  const field = (name: keyof typeof typed, label: string, more: object = {}) => (
    <TextInput
      label={label}
      value={typed[name]}
      error={
        (name in UNIT_OF
          ? wrongIn(typed[name], UNIT_OF[name as keyof typeof UNIT_OF], BOUNDS[name as keyof typeof UNIT_OF])
          : undefined) ?? save.error?.itemFor(name)?.message
      }
      onChange={(event) => setTyped({ ...typed, [name]: event.currentTarget.value })}
      {...more}
    />
  );
  const wrong = [low, high, body.brix, body.ph, body.mass_g].some(
    (number) => number !== null && !Number.isFinite(number),
  );
  return (
    <form
      className={classes.form}
      onSubmit={(event: FormEvent) => {
        event.preventDefault();
        if (!wrong && typed.code.trim()) save.mutate();
      }}
    >
      {field('code', 'Lot code', { 'data-autofocus': true })}
      <SupplierField
        label="From"
        value={typed.supplier}
        error={save.error?.itemFor('supplier')?.message}
        onChange={(supplier) => setTyped({ ...typed, supplier })}
      />
      {field('origin', 'Origin')}
      {field('received_on', 'Came', { type: 'date' })}
      {field('mass_g', 'How much came', { inputMode: 'decimal', placeholder: '5 kg' })}
      {field('opened_on', 'Opened', { type: 'date' })}
      {field('best_before', 'Best before', { type: 'date' })}
      {field('used_up_on', 'Used up', { type: 'date' })}
      {field('brix', '°Brix, measured', { inputMode: 'decimal' })}
      {field('ph', 'pH, measured', { inputMode: 'decimal' })}
      {substance.document.strength && (
        <>
          {field('low', 'Strength, least', { inputMode: 'decimal', description: 'against sweet bark' })}
          {field('high', 'Strength, most', { inputMode: 'decimal', description: 'against sweet bark' })}
        </>
      )}
      <GrowingText
        className={classes.wide}
        label="Tasting notes"
        minRows={2}
        value={typed.tasting_notes}
        onChange={(event) => setTyped({ ...typed, tasting_notes: event.currentTarget.value })}
      />
      <div className={`${classes.buttons} ${classes.wide}`}>
        <Button type="submit" loading={save.isPending} disabled={!typed.code.trim() || wrong}>
          Save
        </Button>
        {wrong && <span role="alert">Write numbers in the number fields.</span>}
        {save.error && <span role="alert">{save.error.message}</span>}
      </div>
    </form>
  );
}
