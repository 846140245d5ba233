import { Button, Checkbox, Group, Select, Textarea } from '@mantine/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, client } from '../../api/client';
import { businessQuery, keys } from '../../api/queries';
import type { Business, BusinessOut } from '../../api/types';
import { useMay } from '../../app/person';
import { symbolOf } from '../../lib/useMoney';
import { Card } from '../../parts/Card';
import { Notice } from '../../parts/Notice';
import { TheirsNotice } from '../../parts/TheirsNotice';
import { NumberField } from '../../parts/NumberField';
import classes from './PinCard.module.css';

const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];

/** What the site counts in, what energy and hands cost it, when it is open and where it serves. */
export function BusinessCard() {
  const found = useQuery(businessQuery);
  if (found.isError) return <Notice tone="stop" text={found.error.message} />;
  if (!found.data) return null;
  return <BusinessForm data={found.data} />;
}

function BusinessForm({ data }: { data: BusinessOut }) {
  const [edited, setEdited] = useState<Business | null>(null);
  const [wrong, setWrong] = useState<Record<string, boolean>>({});
  const readOnly = !useMay('edit_kitchen');
  const queryClient = useQueryClient();
  const save = useMutation({
    mutationFn: (number: number) =>
      answer(client.PUT('/api/v1/business', { body: { number, business: edited ?? data.business } })),
    onSuccess: (out) => {
      queryClient.setQueryData(keys.business, out);
      setEdited(null);
    },
  });
  const theirs = save.error?.status === 409 ? (save.error.theirs as BusinessOut) : null;
  const current = edited ?? data.business;
  const put = (change: Partial<Business>) => setEdited({ ...current, ...change });
  const sign = current.currency ? symbolOf(current.currency).trim() : 'money';
  const days = current.opening_days ?? [];
  const refused = save.error && !theirs ? (save.error.items[0]?.message ?? save.error.message) : null;
  return (
    <Card
      title="Money, days and places"
      aside={edited ? 'not saved yet' : save.isSuccess ? 'saved' : undefined}
      className={classes.card}
    >
      <div className={classes.form}>
        <Select
          label="Currency"
          searchable
          clearable
          readOnly={readOnly}
          placeholder="none entered"
          data={currencies()}
          value={current.currency || null}
          onChange={(currency) => put({ currency: currency ?? '' })}
        />
        <Select
          label="Time zone"
          description="where its days begin"
          searchable
          clearable
          readOnly={readOnly}
          placeholder="that of the machine"
          data={timeZones(current.time_zone)}
          value={current.time_zone || null}
          onChange={(zone) => put({ time_zone: zone ?? '' })}
        />
        <NumberField
          shown
          label="Energy, per kWh"
          value={current.energy_price_kwh ?? null}
          unit={sign}
          low={0}
          high={1000}
          placeholder="not entered"
          readOnly={readOnly}
          onNumber={(energy_price_kwh) => put({ energy_price_kwh })}
          onClear={() => put({ energy_price_kwh: null })}
          onWrong={(is) => setWrong((before) => ({ ...before, energy: is }))}
        />
        <NumberField
          shown
          label="An hour of work"
          value={current.wage_h ?? null}
          unit={sign}
          low={0}
          high={1_000_000}
          placeholder="not entered"
          readOnly={readOnly}
          onNumber={(wage_h) => put({ wage_h })}
          onClear={() => put({ wage_h: null })}
          onWrong={(is) => setWrong((before) => ({ ...before, wage: is }))}
        />
        <NumberField
          shown
          label="A bottle"
          value={current.container_price ?? null}
          unit={sign}
          low={0}
          high={1_000_000}
          placeholder="not entered"
          readOnly={readOnly}
          onNumber={(container_price) => put({ container_price })}
          onClear={() => put({ container_price: null })}
          onWrong={(is) => setWrong((before) => ({ ...before, bottle: is }))}
        />
        <NumberField
          shown
          label="A label"
          value={current.label_price ?? null}
          unit={sign}
          low={0}
          high={1_000_000}
          placeholder="not entered"
          readOnly={readOnly}
          onNumber={(label_price) => put({ label_price })}
          onClear={() => put({ label_price: null })}
          onWrong={(is) => setWrong((before) => ({ ...before, label: is }))}
        />
        <NumberField
          shown
          label="Left of a drink's price, at least"
          description="where the drink itself says nothing"
          value={current.least_margin ?? null}
          unit="%"
          low={0}
          high={99}
          placeholder="not entered"
          readOnly={readOnly}
          onNumber={(least_margin) => put({ least_margin })}
          onClear={() => put({ least_margin: null })}
          onWrong={(is) => setWrong((before) => ({ ...before, margin: is }))}
        />
      </div>
      <Checkbox.Group
        mt="sm"
        label="Open on"
        value={days.map(String)}
        readOnly={readOnly}
        onChange={(chosen) => put({ opening_days: chosen.map(Number).sort() })}
      >
        <Group gap="md" mt={6}>
          {DAYS.map((day, i) => (
            <Checkbox key={day} value={String(i)} label={day} disabled={readOnly} />
          ))}
        </Group>
      </Checkbox.Group>
      <Textarea
        mt="sm"
        label="Places it serves"
        description="One on each line."
        autosize
        minRows={2}
        readOnly={readOnly}
        value={(current.places ?? []).join('\n')}
        onChange={(event) => put({ places: event.currentTarget.value.split('\n') })}
      />
      {theirs && (
        <TheirsNotice
          text="Somebody changed this while you were at it."
          onTake={() => {
            queryClient.setQueryData(keys.business, theirs);
            setEdited(null);
            save.reset();
          }}
          onSave={() => save.mutate(theirs.number)}
        />
      )}
      {refused && <Notice tone="stop" text={refused} />}
      {!readOnly && (
        <Group gap={8} mt="sm">
          <Button
            disabled={!edited || Object.values(wrong).some(Boolean)}
            loading={save.isPending}
            onClick={() => save.mutate(data.number)}
          >
            Save money, days and places
          </Button>
          <Button variant="default" disabled={!edited} onClick={() => setEdited(null)}>
            Discard changes
          </Button>
        </Group>
      )}
    </Card>
  );
}

/** Every currency this browser knows: “EUR, Euro”. */
/** Those the browser knows, and the one that is kept. */
function timeZones(kept: string | undefined) {
  const known = Intl.supportedValuesOf('timeZone');
  return kept && !known.includes(kept) ? [kept, ...known] : known;
}

function currencies() {
  const names = new Intl.DisplayNames('en', { type: 'currency' });
  return Intl.supportedValuesOf('currency').map((code) => ({
    value: code,
    label: `${code}, ${names.of(code) ?? code}`,
  }));
}
