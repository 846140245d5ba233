import { ActionIcon, Button, MultiSelect, NativeSelect, TextInput } from '@mantine/core';
import { IconX } from '@tabler/icons-react';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type ComponentProps, type FormEvent, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { answer, client } from '../../api/client';
import { keys, substanceQuery } from '../../api/queries';
import type { Substance, SubstanceDoc } from '../../api/types';
import { figure } from '../../lib/format';
import { useKept } from '../../lib/useKept';
import { Card } from '../../parts/Card';
import { GrowingText } from '../../parts/GrowingText';
import { Notice } from '../../parts/Notice';
import { NumberField } from '../../parts/NumberField';
import { ScreenHead } from '../../parts/ScreenHead';
import { ALLERGENS, COMPONENTS, componentName, BOUGHT_KINDS } from './words';
import classes from './Pantry.module.css';

/** How far the parts of 100 g may miss it. */
const MISS_G = 1;
const FRESH: SubstanceDoc = {
  title: '',
  kind: 'other',
  basis: 'estimate',
  composition_g_per_100g: { water: 100 },
  density_g_ml: 1,
  density_spread: 0.1,
  storage: 'ambient',
  is_ground: false,
  allergens: [],
  check_pack_for: [],
  also_called: [],
  pieces: {},
  source: '',
  note: '',
};

/** Writes an ingredient of the kitchen's own, or its own reading of one of the library. */
export function IngredientForm() {
  const { id } = useParams();
  const found = useQuery({ ...substanceQuery(id ?? ''), enabled: id !== undefined });
  if (id === undefined) return <Form substance={null} start={FRESH} />;
  if (found.isError) return <Notice tone="stop" text={found.error.message} />;
  return found.data ? <Form key={id} substance={found.data} start={found.data.document} /> : null;
}

interface Part {
  component: string;
  grams: string;
}

/** What stands in the form, and the number of the ingredient it was begun on. */
interface Typed {
  doc: SubstanceDoc;
  parts: Part[];
  also: string;
  number: number;
}

const asTyped = (doc: SubstanceDoc, number: number): Typed => ({
  doc,
  parts: Object.entries(doc.composition_g_per_100g).map(([component, grams]) => ({
    component,
    grams: String(Number(grams.toFixed(4))),
  })),
  also: doc.also_called.join(', '),
  number,
});

/** The form; a label's reading comes in as a start. */
export function Form({
  substance,
  start,
  onDone,
}: {
  substance: Substance | null;
  start: SubstanceDoc;
  onDone?: () => void;
}) {
  const navigate = useNavigate();
  const queryClient = useQueryClient();
  const label = !substance && start !== FRESH;
  const fresh = asTyped(start, substance?.number ?? 0);
  // A label's reading is begun anew from the label, which is kept itself.
  const kept = useKept(substance ? `ingredient.${substance.id}` : label ? null : 'ingredient', fresh);
  const { doc, parts, also } = kept.value;
  const put = (change: Partial<SubstanceDoc>) => kept.set({ ...kept.value, doc: { ...doc, ...change } });
  const setParts = (next: Part[]) => kept.set({ ...kept.value, parts: next });
  const total = parts.reduce((sum, part) => sum + (Number(part.grams) || 0), 0);
  const sums = Math.abs(total - 100) <= MISS_G;
  const body = (): SubstanceDoc => ({
    ...doc,
    composition_g_per_100g: Object.fromEntries(
      parts.filter((part) => Number(part.grams) > 0).map((part) => [part.component, Number(part.grams)]),
    ),
    also_called: also
      .split(',')
      .map((name) => name.trim())
      .filter(Boolean),
    price_per_kg: null,
  });
  const save = useMutation({
    mutationFn: (number: number) =>
      substance
        ? answer(
            client.PUT('/api/v1/substances/{key}', {
              params: { path: { key: substance.id } },
              body: { number, document: body() },
            }),
          )
        : answer(client.POST('/api/v1/substances', { body: { number: 0, document: body() } })),
    onSuccess: (now) => {
      kept.forget();
      onDone?.();
      void queryClient.invalidateQueries({ queryKey: keys.substances });
      queryClient.setQueryData(substanceQuery(now.id).queryKey, now);
      void navigate(`/pantry/${now.id}`);
    },
  });
  // What a field refuses is not in the document: nothing is kept while one does.
  const [refused, setRefused] = useState<string[]>([]);
  const refuse = (name: string, wrong: boolean) =>
    setRefused((before) =>
      wrong === before.includes(name) ? before : wrong ? [...before, name] : before.filter((each) => each !== name),
    );
  const theirs = save.error?.status === 409 ? (save.error.theirs as Pick<Substance, 'number' | 'document'>) : null;
  const wrong = (field: string) => save.error?.textFor(`document.${field}`) ?? save.error?.textFor(field);
  const number = (
    title: string,
    value: number | null | undefined,
    set: (value: number | null) => void,
    unit = '',
    more: Partial<ComponentProps<typeof NumberField>> = {},
  ) => (
    <NumberField
      shown
      size="sm"
      label={title}
      unit={unit}
      value={value ?? null}
      onNumber={set}
      onClear={() => set(null)}
      onWrong={(wrong) => refuse(title, wrong)}
      {...more}
    />
  );
  const open = COMPONENTS.filter((component) => !parts.some((part) => part.component === component));
  const enzyme = doc.enzyme ?? { source: '' };
  return (
    <form
      className={classes.detail}
      onSubmit={(event: FormEvent) => {
        event.preventDefault();
        if (sums && doc.title.trim() && refused.length === 0) save.mutate(kept.value.number);
      }}
    >
      <ScreenHead
        title={
          substance
            ? `${substance.own ? 'Change' : 'Adapt'} ${substance.document.title.toLowerCase()}`
            : 'New ingredient'
        }
      >
        <Button
          size="md"
          variant="default"
          component={Link}
          to={substance ? `/pantry/${substance.id}` : '/pantry'}
          onClick={() => kept.forget()}
        >
          Cancel
        </Button>
        <Button
          size="md"
          type="submit"
          loading={save.isPending}
          disabled={!sums || !doc.title.trim() || refused.length > 0}
        >
          Save
        </Button>
      </ScreenHead>
      {save.error && !theirs && <Notice tone="stop" text={save.error.message} />}
      {theirs && (
        <Notice tone="stop" text={`Somebody changed ${theirs.document.title.toLowerCase()} while you were at it.`}>
          <Button
            size="xs"
            variant="default"
            onClick={() => {
              kept.forget(asTyped(theirs.document, theirs.number));
              save.reset();
            }}
          >
            Use theirs
          </Button>
          <Button size="xs" onClick={() => save.mutate(theirs.number)}>
            Save mine over it
          </Button>
        </Notice>
      )}
      {kept.found && (
        <Notice tone="look" text="Your unsaved changes are back.">
          <Button size="xs" variant="default" onClick={() => kept.forget(fresh)}>
            Discard changes
          </Button>
        </Notice>
      )}
      {substance && !substance.own && (
        <Notice
          tone="look"
          text="What you keep here stands before the table, in this kitchen only. Formulas that use it go by it from then on; versions stay as they are."
        />
      )}
      <div className={classes.pair}>
        <Card title="In 100 g" aside={label ? 'as the label was read' : undefined}>
          <ul className={classes.parts}>
            {parts.map((part, index) => (
              <li key={part.component}>
                <span>{componentName(part.component)}</span>
                <NumberField
                  size="sm"
                  label={`Grams of ${componentName(part.component)}`}
                  unit="g"
                  low={0}
                  high={100}
                  value={part.grams === '' ? null : Number(part.grams)}
                  onNumber={(grams) =>
                    setParts(parts.map((each, n) => (n === index ? { ...each, grams: String(grams) } : each)))
                  }
                  onClear={() => setParts(parts.map((each, n) => (n === index ? { ...each, grams: '' } : each)))}
                  onWrong={(wrong) => refuse(part.component, wrong)}
                />
                <ActionIcon
                  variant="subtle"
                  color="gray"
                  size={36}
                  aria-label={`Remove ${componentName(part.component)}`}
                  onClick={() => setParts(parts.filter((_, n) => n !== index))}
                >
                  <IconX size={16} />
                </ActionIcon>
              </li>
            ))}
          </ul>
          <NativeSelect
            aria-label="Add a component"
            data={[
              { value: '', label: '+ add a component' },
              ...open.map((component) => ({ value: component, label: componentName(component) })),
            ]}
            value=""
            onChange={(event) =>
              event.currentTarget.value && setParts([...parts, { component: event.currentTarget.value, grams: '' }])
            }
          />
          <p className={classes.sum} data-wrong={!sums || undefined} role="status">
            <strong>{figure(total, 1)} g</strong>
            {sums ? 'in 100 g' : `They must add up to 100 g, within ${MISS_G} g.`}
          </p>
          <Button
            size="xs"
            variant="default"
            disabled={sums || !parts.some((part) => part.component === 'water')}
            onClick={() =>
              setParts(
                parts.map((part) =>
                  part.component === 'water'
                    ? { ...part, grams: String(Math.max(0, Number((Number(part.grams) + 100 - total).toFixed(3)))) }
                    : part,
                ),
              )
            }
          >
            Fill up with water
          </Button>
          {number(
            'Of that free sugars (added, honey, syrup, juice)',
            doc.free_sugars_g_per_100g,
            (free) => put({ free_sugars_g_per_100g: free }),
            'g',
            { low: 0, high: 100, mt: 8, placeholder: 'all of the sugars' },
          )}
        </Card>
        <Card title="What it is">
          <div className={classes.form}>
            <TextInput
              className={classes.wide}
              label="Name"
              required
              value={doc.title}
              error={wrong('title')}
              autoFocus={!substance}
              onChange={(event) => put({ title: event.currentTarget.value })}
            />
            <NativeSelect
              label="Kind"
              data={BOUGHT_KINDS.map(([value, label]) => ({ value, label }))}
              value={doc.kind}
              onChange={(event) => put({ kind: event.currentTarget.value, contributions: null })}
            />
            <NativeSelect
              label="How it is known"
              data={[
                { value: 'table', label: 'from a table' },
                { value: 'label', label: 'from a label' },
                { value: 'estimate', label: 'estimated' },
              ]}
              value={doc.basis}
              onChange={(event) =>
                put({
                  basis: event.currentTarget.value as SubstanceDoc['basis'],
                  ...(event.currentTarget.value === 'estimate' ? { source: '' } : {}),
                })
              }
            />
            {doc.basis !== 'estimate' && (
              <TextInput
                label="Which"
                value={doc.source}
                onChange={(event) => put({ source: event.currentTarget.value })}
              />
            )}
            {number(
              'A spoon or cup holds',
              doc.density_g_ml,
              (value) => value !== null && put({ density_g_ml: value }),
              'g/ml',
              { low: 0.02, high: 25, error: wrong('density_g_ml') },
            )}
            <NativeSelect
              label="Stands"
              data={[
                { value: 'ambient', label: 'at room temperature' },
                { value: 'chilled', label: 'in the fridge' },
              ]}
              value={doc.storage}
              onChange={(event) => put({ storage: event.currentTarget.value as SubstanceDoc['storage'] })}
            />
            {number(
              'Opened it keeps',
              doc.opened?.low,
              (days) =>
                put({
                  opened:
                    days === null
                      ? null
                      : { low: days, high: Math.max(days, doc.opened?.high ?? days), storage: doc.storage },
                }),
              'days',
              { low: 0 },
            )}
            {number('pH, measured', doc.ph, (ph) => put({ ph }), '', { low: 0, high: 14 })}
            <MultiSelect
              className={classes.wide}
              label="Contains"
              data={ALLERGENS}
              value={doc.allergens}
              onChange={(allergens) => put({ allergens })}
            />
            <MultiSelect
              className={classes.wide}
              label="Check the pack for"
              data={ALLERGENS}
              value={doc.check_pack_for}
              onChange={(check_pack_for) => put({ check_pack_for })}
            />
            <TextInput
              className={classes.wide}
              label="Tastes of"
              value={doc.character ?? ''}
              onChange={(event) => put({ character: event.currentTarget.value || null })}
            />
            <TextInput
              className={classes.wide}
              label="Also called"
              description="separated by commas"
              value={also}
              onChange={(event) => kept.set({ ...kept.value, also: event.currentTarget.value })}
            />
            <GrowingText
              className={classes.wide}
              label="Note"
              minRows={2}
              value={doc.note}
              onChange={(event) => put({ note: event.currentTarget.value })}
            />
          </div>
        </Card>
      </div>
      {doc.kind === 'enzyme' && (
        <Card title="Enzyme" aside="from its data sheet: without source, activity, dose and sheet no hold is promised">
          <div className={classes.form}>
            <TextInput
              label="Source"
              value={enzyme.source}
              onChange={(event) => put({ enzyme: { ...enzyme, source: event.currentTarget.value } })}
            />
            {number(
              'Works from',
              enzyme.works_c?.low,
              (low) =>
                put({
                  enzyme: {
                    ...enzyme,
                    works_c: low === null ? null : { low, high: Math.max(low, enzyme.works_c?.high ?? low) },
                  },
                }),
              '°C',
            )}
            {number(
              'to',
              enzyme.works_c?.high,
              (high) =>
                put({
                  enzyme: {
                    ...enzyme,
                    works_c: high === null ? null : { low: Math.min(high, enzyme.works_c?.low ?? high), high },
                  },
                }),
              '°C',
            )}
            {number('Lost at', enzyme.dies_c, (dies_c) => put({ enzyme: { ...enzyme, dies_c } }), '°C')}
            {number(
              'pH from',
              enzyme.ph?.low,
              (low) =>
                put({
                  enzyme: { ...enzyme, ph: low === null ? null : { low, high: Math.max(low, enzyme.ph?.high ?? low) } },
                }),
              '',
            )}
            {number(
              'pH to',
              enzyme.ph?.high,
              (high) =>
                put({
                  enzyme: {
                    ...enzyme,
                    ph: high === null ? null : { low: Math.min(high, enzyme.ph?.low ?? high), high },
                  },
                }),
              '',
            )}
            {number('Activity', enzyme.activity, (activity) => put({ enzyme: { ...enzyme, activity } }))}
            <TextInput
              label="in units of"
              value={enzyme.activity_unit ?? ''}
              onChange={(event) => put({ enzyme: { ...enzyme, activity_unit: event.currentTarget.value || null } })}
            />
            {number(
              'Dose per kg of starch, from',
              enzyme.dose_g_kg?.low,
              (low) =>
                put({
                  enzyme: {
                    ...enzyme,
                    dose_g_kg: low === null ? null : { low, high: Math.max(low, enzyme.dose_g_kg?.high ?? low) },
                  },
                }),
              'g',
            )}
            {number(
              'dose to',
              enzyme.dose_g_kg?.high,
              (high) =>
                put({
                  enzyme: {
                    ...enzyme,
                    dose_g_kg: high === null ? null : { low: Math.min(high, enzyme.dose_g_kg?.low ?? high), high },
                  },
                }),
              'g',
            )}
            <TextInput
              label="Data sheet"
              value={enzyme.sheet ?? ''}
              onChange={(event) => put({ enzyme: { ...enzyme, sheet: event.currentTarget.value || null } })}
            />
          </div>
        </Card>
      )}
    </form>
  );
}
