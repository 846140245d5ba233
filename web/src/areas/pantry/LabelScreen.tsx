import { Button } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { answer, client } from '../../api/client';
import type { LabelDoc, LabelReport, SubstanceDoc } from '../../api/types';
import { useMay } from '../../app/person';
import { figure } from '../../lib/format';
import { useKept } from '../../lib/useKept';
import { Card } from '../../parts/Card';
import { Notice } from '../../parts/Notice';
import { ScreenHead } from '../../parts/ScreenHead';
import { Form } from './IngredientForm';
import { BLANK_LABEL, canRead, LabelFields, labelOf } from './LabelFields';
import { bandOf, componentName } from './words';
import classes from './Pantry.module.css';

/** Type what a pack says; see what it is made of, how sure that is, and what was assumed. */
export function LabelScreen() {
  const mayEdit = useMay('edit_pantry');
  const kept = useKept('label', BLANK_LABEL);
  const { title, kind, milk } = kept.value;
  const [keep, setKeep] = useState<LabelReport | null>(null);
  const [label] = useDebouncedValue(labelOf(kept.value), 200);
  const asked = JSON.stringify(label);
  const read = useQuery({
    queryKey: ['label', asked],
    queryFn: ({ signal }) =>
      answer(client.POST('/api/v1/substances/label', { body: JSON.parse(asked) as LabelDoc, signal })),
    enabled: canRead(label),
    placeholderData: keepPreviousData,
    retry: false,
    staleTime: Infinity,
  });
  if (keep)
    return (
      <Form
        substance={null}
        start={asIngredient(keep, title, kind, milk || kind === 'dairy')}
        onDone={() => kept.forget()}
      />
    );
  return (
    <>
      <ScreenHead title="From a label">
        <Button size="md" variant="default" component={Link} to="/pantry">
          All ingredients
        </Button>
        <Button size="md" variant="default" disabled={kept.value === BLANK_LABEL} onClick={() => kept.forget()}>
          Another pack
        </Button>
        {mayEdit && (
          <Button
            size="md"
            disabled={!read.data || read.isError || read.isPlaceholderData}
            onClick={() => read.data && setKeep(read.data)}
          >
            Save as an ingredient
          </Button>
        )}
      </ScreenHead>
      <div className={classes.pair}>
        <Card title="What the pack says" aside="as it is printed: 5, 5.2, <0.5">
          <LabelFields
            typed={kept.value}
            problem={read.error}
            onPut={(change) => kept.set({ ...kept.value, ...change })}
          />
        </Card>
        <Card title="Result" aside="in 100 g">
          {read.isError && <Notice tone="look" text={read.error.message} />}
          {read.data && !read.isError ? (
            <Read report={read.data} />
          ) : (
            <p className={classes.quiet}>
              Sugars and fat are enough to begin with. The more figures, the narrower the ranges.
            </p>
          )}
        </Card>
      </div>
    </>
  );
}

function Read({ report }: { report: LabelReport }) {
  const most = Math.max(...Object.values(report.ranges).map((range) => range.high), 1);
  const rows = Object.entries(report.ranges).sort(([, a], [, b]) => b.likely - a.likely);
  return (
    <>
      <table className={classes.table}>
        <thead>
          <tr>
            <th scope="col">Component</th>
            <td>likeliest</td>
            <td>least to most</td>
            <th scope="col" aria-label="drawn" />
          </tr>
        </thead>
        <tbody>
          {rows.map(([name, range]) => (
            <tr key={name}>
              <th scope="row">
                <span
                  className={classes.swatch}
                  style={{ background: `var(--band-${bandOf(name)})` }}
                  aria-hidden="true"
                />
                {componentName(name)}
              </th>
              <RangeCells range={range} unit="g" digits={1} />
              <td>
                <div className={classes.range} aria-hidden="true">
                  <span
                    style={{
                      left: `${(100 * range.low) / most}%`,
                      right: `${100 - (100 * range.high) / most}%`,
                      background: `var(--band-${bandOf(name)})`,
                    }}
                  />
                </div>
              </td>
            </tr>
          ))}
        </tbody>
        <tfoot>
          {Object.entries(report.totals)
            .filter(([name]) => name.includes('sugars') || name === 'fat')
            .map(([name, range]) => (
              <tr key={name}>
                <th scope="row">{name === 'sugars' ? 'all sugars' : componentName(name)}</th>
                <RangeCells range={range} unit="g" digits={1} />
                <td />
              </tr>
            ))}
          <tr>
            <th scope="row">g per ml</th>
            <RangeCells range={report.density_g_ml} digits={3} />
            <td />
          </tr>
        </tfoot>
      </table>
      {report.says_little.map((words) => (
        <p key={words} className={classes.mild}>
          {words}
        </p>
      ))}
      <details>
        <summary>What was assumed</summary>
        <ul>
          {report.assumptions.map((words) => (
            <li key={words}>{words}</li>
          ))}
        </ul>
      </details>
    </>
  );
}

function RangeCells({ range, unit, digits }: { range: LabelReport['density_g_ml']; unit?: string; digits: number }) {
  return (
    <>
      <td>
        {figure(range.likely, digits)} {unit && <span className={classes.unit}>{unit}</span>}
      </td>
      <td>
        {figure(range.low, digits)}–{figure(range.high, digits)}
      </td>
    </>
  );
}

/** The reading of a label as the start of an ingredient. */
function asIngredient(report: LabelReport, title: string, kind: string, milk: boolean): SubstanceDoc {
  return {
    title,
    kind,
    basis: 'label',
    composition_g_per_100g: report.composition_g_per_100g,
    free_sugars_g_per_100g: report.free_sugars_g_per_100g,
    density_g_ml: Number(report.density_g_ml.likely.toFixed(3)),
    density_spread: 0.03,
    storage: kind === 'dairy' ? 'chilled' : 'ambient',
    is_ground: false,
    allergens: milk ? ['milk'] : [],
    check_pack_for: [],
    also_called: [],
    pieces: {},
    source: 'its own label',
    note: [...report.says_little, ...report.assumptions].join(' ').slice(0, 3900),
  };
}
