import { Button, NativeSelect, Switch, TextInput } from '@mantine/core';
import { useState } from 'react';
import type { ApiProblem } from '../../api/problem';
import type { LabelDoc } from '../../api/types';
import { valueIn, wrongIn } from '../../lib/figures';
import { BOUGHT_KINDS } from './words';
import classes from './Pantry.module.css';

const FIGURES: [string, string][] = [
  ['energy_kcal', 'Energy, kcal'],
  ['energy_kj', 'Energy, kJ'],
  ['fat', 'Fat, g'],
  ['carbohydrate', 'Carbohydrate, g'],
  ['sugars', 'of which sugars, g'],
  ['added_sugars', 'of which added, g'],
  ['starch', 'Starch, g'],
  ['fibre', 'Fibre, g'],
  ['protein', 'Protein, g'],
  ['salt', 'Salt, g'],
  ['sodium_mg', 'Sodium, mg'],
  ['alcohol_vol', 'Alcohol, % vol'],
  ['caffeine_mg', 'Caffeine, mg'],
];
const FIRST = ['energy_kcal', 'fat', 'carbohydrate', 'sugars', 'protein', 'salt'];
const PER = [
  { value: '100 g', label: '100 g' },
  { value: '100 ml', label: '100 ml' },
  { value: 'serving', label: 'a serving' },
];

/** A label as it is being typed. */
export interface TypedLabel {
  title: string;
  kind: string;
  per: LabelDoc['per'];
  serving: string;
  unit: 'ml' | 'g';
  milk: boolean;
  us: boolean;
  figures: Record<string, string>;
}

export const BLANK_LABEL: TypedLabel = {
  title: '',
  kind: 'dairy',
  per: '100 g',
  serving: '',
  unit: 'ml',
  milk: false,
  us: false,
  figures: {},
};

/** What is typed so far as the server reads it. */
export function labelOf(typed: TypedLabel): LabelDoc {
  const size = valueIn(typed.serving, typed.unit);
  return {
    title: typed.title,
    kind: typed.kind,
    per: typed.per,
    figures: Object.fromEntries(Object.entries(typed.figures).filter(([, text]) => text.trim() !== '')),
    with_milk: typed.milk,
    rules: typed.us ? 'us' : 'as typed',
    serving_ml: typed.per === 'serving' && typed.unit === 'ml' && size > 0 ? size : null,
    serving_g: typed.per === 'serving' && typed.unit === 'g' && size > 0 ? size : null,
  };
}

/** Whether enough is typed for the server to read. */
export function canRead(label: LabelDoc): boolean {
  return (
    Object.keys(label.figures).length > 0 && (label.per !== 'serving' || Boolean(label.serving_ml ?? label.serving_g))
  );
}

/** A kept label as it was typed. */
export function typedOf(label: LabelDoc): TypedLabel {
  const serving = label.serving_ml ?? label.serving_g;
  return {
    title: label.title ?? '',
    kind: label.kind ?? 'other',
    per: label.per,
    serving: serving ? String(serving) : '',
    unit: label.serving_g ? 'g' : 'ml',
    milk: label.with_milk ?? false,
    us: label.rules === 'us',
    figures: label.figures,
  };
}

interface LabelFieldsProps {
  typed: TypedLabel;
  problem: ApiProblem | null;
  /** Where the label stands in what was sent. */
  within?: string;
  /** Whether it has a name of its own. */
  named?: boolean;
  onPut: (change: Partial<TypedLabel>) => void;
}

/** The figures of a pack, as they are printed. */
export function LabelFields({ typed, problem, within = '', named = true, onPut }: LabelFieldsProps) {
  const { title, kind, per, serving, unit, milk, us, figures } = typed;
  const [more, setMore] = useState(false);
  const shown = FIGURES.filter(([name]) => more || FIRST.includes(name) || figures[name]);
  const wrong = (name: string) => problem?.textFor(`label.${name}`) ?? problem?.textFor(`${within}label.${name}`);
  return (
    <>
      <div className={classes.form}>
        {named && (
          <TextInput label="Name" value={title} onChange={(event) => onPut({ title: event.currentTarget.value })} />
        )}
        <NativeSelect
          label="Kind"
          data={BOUGHT_KINDS.map(([value, words]) => ({ value, label: words }))}
          value={kind}
          onChange={(event) => onPut({ kind: event.currentTarget.value })}
        />
        <NativeSelect
          label="Stated for"
          data={PER}
          value={per}
          onChange={(event) => onPut({ per: event.currentTarget.value as LabelDoc['per'] })}
        />
        {per === 'serving' && (
          <>
            <TextInput
              label="A serving is"
              inputMode="decimal"
              value={serving}
              error={wrongIn(serving, unit, { above: 0 })}
              onChange={(event) => onPut({ serving: event.currentTarget.value })}
            />
            <NativeSelect
              label="measured in"
              data={['ml', 'g']}
              value={unit}
              onChange={(event) => onPut({ unit: event.currentTarget.value as 'ml' | 'g' })}
            />
          </>
        )}
      </div>
      <div className={classes.form}>
        {shown.map(([name, words]) => (
          <TextInput
            key={name}
            label={words}
            inputMode="decimal"
            value={figures[name] ?? ''}
            error={wrong(name)}
            onChange={(event) => onPut({ figures: { ...figures, [name]: event.currentTarget.value } })}
          />
        ))}
      </div>
      <div className={classes.buttons}>
        {!more && (
          <Button size="xs" variant="default" onClick={() => setMore(true)}>
            More of it
          </Button>
        )}
        {kind !== 'dairy' && (
          <Switch
            label="Milk is in it"
            checked={milk}
            onChange={(event) => onPut({ milk: event.currentTarget.checked })}
          />
        )}
        <Switch
          label="A United States label"
          checked={us}
          onChange={(event) => onPut({ us: event.currentTarget.checked })}
        />
      </div>
    </>
  );
}
