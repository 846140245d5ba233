import { Button, NativeSelect, Switch, TextInput } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { answer, client } from '../../api/client';
import type { LabelDoc, LabelReport, SubstanceDoc } from '../../api/types';
import { useMay } from '../../app/person';
import { figure } from '../../lib/format';
import { numberOf } from '../../lib/numberOf';
import { useKept } from '../../lib/useKept';
import { Card } from '../../parts/Card';
import { Notice } from '../../parts/Notice';
import { ScreenHead } from '../../parts/ScreenHead';
import { Form } from './IngredientForm';
import { bandOf, componentName, KIND_WORDS } from './words';
import classes from './Pantry.module.css';

const FIGURES: [string, string][] = [
  ['energy_kcal', 'Energy, kcal'], ['energy_kj', 'Energy, kJ'], ['fat', 'Fat, g'], ['carbohydrate', 'Carbohydrate, g'], ['sugars', 'of which sugars, g'], ['added_sugars', 'of which added, g'], ['starch', 'Starch, g'],
  ['fibre', 'Fibre, g'], ['protein', 'Protein, g'], ['salt', 'Salt, g'], ['sodium_mg', 'Sodium, mg'], ['alcohol_vol', 'Alcohol, % vol'], ['caffeine_mg', 'Caffeine, mg'],
];
const FIRST = ['energy_kcal', 'fat', 'carbohydrate', 'sugars', 'protein', 'salt'];
const PER = [{ value: '100 g', label: '100 g' }, { value: '100 ml', label: '100 ml' }, { value: 'serving', label: 'a serving' }];

interface Typed {
  title: string;
  kind: string;
  per: LabelDoc['per'];
  serving: string;
  unit: 'ml' | 'g';
  milk: boolean;
  us: boolean;
  figures: Record<string, string>;
}

const BLANK: Typed = { title: '', kind: 'dairy', per: '100 g', serving: '', unit: 'ml', milk: false, us: false, figures: {} };

/** Type what a pack says; see what it is made of, how sure that is, and what was assumed. */
export function LabelScreen() {
  const mayEdit = useMay('edit_pantry');
  const kept = useKept('label', BLANK);
  const { title, kind, per, serving, unit, milk, us, figures } = kept.value;
  const put = (change: Partial<Typed>) => kept.set({ ...kept.value, ...change });
  const [more, setMore] = useState(false);
  const [keep, setKeep] = useState<LabelReport | null>(null);
  const size = numberOf(serving);
  const typed: LabelDoc = {
    title, kind, per, figures: Object.fromEntries(Object.entries(figures).filter(([, text]) => text.trim() !== '')), with_milk: milk, rules: us ? 'us' : 'as typed',
    serving_ml: per === 'serving' && unit === 'ml' && size > 0 ? size : null, serving_g: per === 'serving' && unit === 'g' && size > 0 ? size : null,
  };
  const [label] = useDebouncedValue(typed, 200);
  const asked = JSON.stringify(label);
  const read = useQuery({
    queryKey: ['label', asked],
    queryFn: ({ signal }) => answer(client.POST('/api/substances/label', { body: JSON.parse(asked) as LabelDoc, signal })),
    enabled: Object.keys(label.figures).length > 0 && (per !== 'serving' || size > 0),
    placeholderData: keepPreviousData,
    retry: false,
    staleTime: Infinity,
  });
  if (keep) return <Form substance={null} start={asIngredient(keep, title, kind, milk || kind === 'dairy')} onDone={() => kept.forget()} />;
  const shown = FIGURES.filter(([name]) => more || FIRST.includes(name) || figures[name]);
  return (
    <>
      <ScreenHead title="From a label">
        <Button size="md" variant="default" component={Link} to="/pantry">
          All ingredients
        </Button>
        <Button size="md" variant="default" disabled={kept.value === BLANK} onClick={() => kept.forget()}>
          Another pack
        </Button>
        {mayEdit && (
          <Button size="md" disabled={!read.data || read.isError || read.isPlaceholderData} onClick={() => read.data && setKeep(read.data)}>
            Keep as an ingredient
          </Button>
        )}
      </ScreenHead>
      <div className={classes.pair}>
        <Card title="What the pack says" aside="as it is printed: 5, 5.2, <0.5">
          <div className={classes.form}>
            <TextInput label="Name" value={title} onChange={(event) => put({ title: event.currentTarget.value })} />
            <NativeSelect label="Kind" data={Object.entries(KIND_WORDS).map(([value, words]) => ({ value, label: words }))} value={kind} onChange={(event) => put({ kind: event.currentTarget.value })} />
            <NativeSelect label="Stated for" data={PER} value={per} onChange={(event) => put({ per: event.currentTarget.value as LabelDoc['per'] })} />
            {per === 'serving' && (
              <>
                <TextInput label="A serving is" inputMode="decimal" value={serving} error={serving !== '' && !(size > 0) ? 'Write a number.' : undefined} onChange={(event) => put({ serving: event.currentTarget.value })} />
                <NativeSelect label="measured in" data={['ml', 'g']} value={unit} onChange={(event) => put({ unit: event.currentTarget.value as 'ml' | 'g' })} />
              </>
            )}
          </div>
          <div className={classes.form}>
            {shown.map(([name, words]) => (
              <TextInput key={name} label={words} inputMode="decimal" value={figures[name] ?? ''} error={read.error?.textFor(`label.${name}`)} onChange={(event) => put({ figures: { ...figures, [name]: event.currentTarget.value } })} />
            ))}
          </div>
          <div className={classes.buttons}>
            {!more && (
              <Button size="xs" variant="default" onClick={() => setMore(true)}>
                More of it
              </Button>
            )}
            {kind !== 'dairy' && <Switch label="Milk is in it" checked={milk} onChange={(event) => put({ milk: event.currentTarget.checked })} />}
            <Switch label="A United States label" checked={us} onChange={(event) => put({ us: event.currentTarget.checked })} />
          </div>
        </Card>
        <Card title="What that comes to" aside="in 100 g">
          {read.isError && <Notice tone="look" text={read.error.message} />}
          {read.data && !read.isError ? <Read report={read.data} /> : <p className={classes.quiet}>Sugars and fat are enough to begin with. The more figures, the narrower the ranges.</p>}
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
                <span className={classes.swatch} style={{ background: `var(--band-${bandOf(name)})` }} aria-hidden="true" />
                {componentName(name)}
              </th>
              <RangeCells range={range} unit="g" digits={1} />
              <td>
                <div className={classes.range} aria-hidden="true">
                  <span style={{ left: `${(100 * range.low) / most}%`, right: `${100 - (100 * range.high) / most}%`, background: `var(--band-${bandOf(name)})` }} />
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
            <th scope="row">grams a millilitre</th>
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
    title, kind, basis: 'label', composition_g_per_100g: report.composition_g_per_100g, free_sugars_g_per_100g: report.free_sugars_g_per_100g,
    density_g_ml: Number(report.density_g_ml.likely.toFixed(3)), density_spread: 0.03, storage: kind === 'dairy' ? 'chilled' : 'ambient', is_ground: false,
    allergens: milk ? ['milk'] : [], check_pack_for: [], also_called: [], pieces: {}, source: 'its own label',
    note: [...report.says_little, ...report.assumptions].join(' ').slice(0, 3900),
  };
}
