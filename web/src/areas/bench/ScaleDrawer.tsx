import { Button, Group, NativeSelect, TextInput } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, client } from '../../api/client';
import { drinksUsingQuery } from '../../api/queries';
import type { MethodDocument, ScaleRequest, ScaleReport, WalkReport } from '../../api/types';
import { figure, grams } from '../../lib/format';
import { valueIn, wrongIn } from '../../lib/figures';
import { Notice } from '../../parts/Notice';
import { SideDrawer } from '../../parts/SideDrawer';
import { type Cups, cupsOf, DrinkCounts } from './DrinkCounts';
import classes from './ScaleDrawer.module.css';

interface ScaleDrawerProps {
  opened: boolean;
  document: MethodDocument;
  /** Which formula it is: drinks that take it are known by that; none of one that was never saved. */
  formula: string | undefined;
  report: WalkReport;
  readOnly: boolean;
  onTake: (document: MethodDocument, words: string) => void;
  onClose: () => void;
}

type By = ScaleRequest['by'];
const BY: { value: By; label: string; unit: string }[] = [
  { value: 'litres', label: 'litres, cold', unit: 'l' },
  { value: 'grams', label: 'grams', unit: 'g' },
  { value: 'bottles', label: 'bottles', unit: 'bottles' },
  { value: 'doses', label: 'doses', unit: 'doses' },
  { value: 'drinks', label: 'drinks that take it', unit: '' },
  { value: 'factor', label: 'times the formula', unit: 'times' },
  { value: 'line', label: 'from what there is of one ingredient', unit: 'g' },
  { value: 'pot', label: 'as much as one cook can take', unit: '' },
];

/** How much of a formula to make: split into cooks that pots and scales can take, with what to weigh for each. */
export function ScaleDrawer({ opened, document, formula, report, readOnly, onTake, onClose }: ScaleDrawerProps) {
  const fill = report.stages.find((stage) => stage.fill)?.fill;
  const [by, setBy] = useState<By>('litres');
  const [typed, setTyped] = useState('');
  const [size, setSize] = useState('');
  const [line, setLine] = useState('');
  const [dose, setDose] = useState('20');
  const [cups, setCups] = useState<Cups>({});
  const using = useQuery({ ...drinksUsingQuery(formula ?? ''), enabled: opened && by === 'drinks' && !!formula });
  const lines = [
    ...report.lines.filter((each) => each.kind !== 'join'),
    ...report.stages.filter((stage) => stage.gives).map(({ id, name }) => ({ id, title: `what “${name}” gives` })),
  ];
  const shownSize = size || String(fill?.size_ml ?? 500);
  const unit = BY.find((each) => each.value === by)!.unit;
  const ask: ScaleRequest = {
    by,
    value: by === 'pot' || by === 'drinks' ? null : valueIn(typed, unit),
    dose_g: by === 'doses' ? valueIn(dose, 'g') : null,
    cups: by === 'drinks' ? cupsOf(using.data ?? [], cups) : null,
    size_ml: by === 'bottles' ? valueIn(shownSize, 'ml') : null,
    line: by === 'line' ? line || (lines[0]?.id ?? '') : null,
  };
  // As text: an object made anew at every look would never settle.
  const [settledText] = useDebouncedValue(JSON.stringify(ask), 150);
  const settled = JSON.parse(settledText) as ScaleRequest;
  const ready =
    settled.by === 'pot' ||
    (settled.by === 'drinks' && (settled.cups ?? []).length > 0) ||
    ((settled.by !== 'doses' || (settled.dose_g ?? NaN) > 0) &&
      (settled.value ?? NaN) > 0 &&
      (settled.by !== 'bottles' || (settled.size_ml ?? NaN) > 0));
  const scaled = useQuery({
    queryKey: ['scale', settledText, document],
    queryFn: ({ signal }) => answer(client.POST('/api/v1/scale', { body: { document, ask: settled }, signal })),
    enabled: opened && ready,
    retry: false,
    gcTime: 0,
    placeholderData: keepPreviousData,
  });
  const found = ready && !scaled.error ? scaled.data : undefined;
  const stale = scaled.isPlaceholderData || settledText !== JSON.stringify(ask);
  return (
    <SideDrawer opened={opened} title="How much to make" closeLabel="Close" width={560} onClose={onClose}>
      <div className={classes.ask}>
        {by !== 'pot' && by !== 'drinks' && (
          <TextInput
            label="How much"
            data-autofocus
            inputMode="decimal"
            value={typed}
            placeholder={
              by === 'litres'
                ? figure((report.cold_product.volume_ml ?? 0) / 1000, 2)
                : by === 'grams'
                  ? figure(report.product.mass_g)
                  : '2'
            }
            error={wrongIn(typed, unit, { above: 0, high: 1_000_000 })}
            rightSection={unit && <span className={classes.unit}>{unit}</span>}
            rightSectionWidth={unit.length * 8 + 14}
            onChange={(event) => setTyped(event.currentTarget.value)}
          />
        )}
        <NativeSelect
          label="Counted as"
          value={by}
          data={BY.map(({ value, label }) => ({ value, label }))}
          onChange={(event) => setBy(event.currentTarget.value as By)}
        />
        {by === 'bottles' && (
          <TextInput
            label="Each holds"
            inputMode="decimal"
            value={shownSize}
            error={wrongIn(shownSize, 'ml', { above: 0, high: 100_000 })}
            rightSection={<span className={classes.unit}>ml</span>}
            onChange={(event) => setSize(event.currentTarget.value)}
          />
        )}
        {by === 'doses' && (
          <TextInput
            label="A dose is"
            inputMode="decimal"
            value={dose}
            error={wrongIn(dose, 'g', { above: 0, high: 100_000 })}
            rightSection={<span className={classes.unit}>g</span>}
            onChange={(event) => setDose(event.currentTarget.value)}
          />
        )}
        {by === 'line' && (
          <NativeSelect
            label="Of this"
            value={ask.line ?? ''}
            data={lines.map(({ id, title }) => ({ value: id, label: title }))}
            onChange={(event) => setLine(event.currentTarget.value)}
          />
        )}
      </div>
      {by === 'drinks' && (
        <DrinkCounts drinks={using.data} failed={using.error?.message} cups={cups} onCups={setCups} />
      )}
      {!ready && <p className={classes.hint}>Type how much to see what to weigh.</p>}
      {ready && scaled.error && <Notice tone="stop" text={scaled.error.message} />}
      {found && <Sheet found={found} stale={stale} />}
      {found && !readOnly && (
        <Group justify="flex-end" mt="md">
          <Button
            size="md"
            disabled={stale}
            onClick={() => onTake(found.document, `scaled, ${figure(found.factor / found.cooks, 3)} times`)}
          >
            {found.cooks > 1 ? 'Apply for one cook' : 'Apply to the formula'}
          </Button>
        </Group>
      )}
    </SideDrawer>
  );
}

function Sheet({ found, stale }: { found: ScaleReport; stale: boolean }) {
  const moved = found.readings.filter(
    (r) => r.exact !== null && r.weighed !== null && Math.abs(r.weighed - r.exact) >= 0.5 * 10 ** -r.digits,
  );
  return (
    <div data-stale={stale || undefined} className={classes.sheet}>
      <p className={classes.sum}>
        <strong>
          {found.cooks === 1 ? 'One cook' : `${found.cooks} cooks, each the same`}: {figure(found.yield_g)} g
          {found.yield_l !== null && `, ${figure(found.yield_l, 2)} l cold`}
        </strong>{' '}
        · {figure(found.factor, 3)} times the formula
      </p>
      {found.limits.length > 0 && (
        <Notice tone="look" text={`In one cook it would not fit. ${found.limits.join('. ')}.`} />
      )}
      {found.notes.map((note) => (
        <Notice key={note} tone="look" text={note} />
      ))}
      <table className={classes.table}>
        <caption>{found.cooks > 1 ? 'Weigh for each cook' : 'Weigh'}</caption>
        <thead>
          <tr>
            <th scope="col">Ingredient</th>
            <th scope="col" className={classes.right}>
              Grams
            </th>
            <th scope="col">On</th>
          </tr>
        </thead>
        <tbody>
          {found.weighings.map((each) => (
            <tr key={each.line}>
              <th scope="row">{each.title}</th>
              <td className={classes.right}>
                {each.rounded_g < 200 && each.rounded_g % 1 !== 0 ? figure(each.rounded_g, 2) : grams(each.rounded_g)}
              </td>
              <td className={classes.dim}>
                {each.scale ?? '—'}
                {each.goes > 1 && `, in ${each.goes} parts`}
                {each.error > 0.02 && <span className={classes.doubt}> ± {(100 * each.error).toFixed(0)} %</span>}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {found.boils.map((stop) => (
        <p key={stop} className={classes.line}>
          {stop}
        </p>
      ))}
      {found.bottles && found.bottles.per_container_g !== null && (
        <p className={classes.line}>
          {found.bottles.words}
          {found.cooks > 1 && ' from each cook'}:{' '}
          <strong>{figure(found.bottles.per_container_g)} g in a full one</strong>
          {found.bottles.fill_c !== null && `, filled at ${figure(found.bottles.fill_c)} °C`}
          {found.bottles.cold_ml !== null && `; ${figure(found.bottles.cold_ml)} ml once cold`}.
        </p>
      )}
      <p className={classes.dim}>
        {moved.length === 0
          ? 'Rounded to the scale, no reading changes as it is shown.'
          : `Weighed to the scale: ${moved.map((r) => `${r.title} ${figure(r.weighed ?? 0, r.digits)}${r.unit && ` ${r.unit}`} instead of ${figure(r.exact ?? 0, r.digits)}`).join('; ')}.`}
      </p>
    </div>
  );
}
