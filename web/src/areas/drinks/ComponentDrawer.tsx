import { Button, NativeSelect, TextInput } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import type { ApiProblem } from '../../api/problem';
import { kitchenQuery, titlesQuery } from '../../api/queries';
import type { DrinkComponent, DrinkDocument, DrinkSizes } from '../../api/types';
import { figure, grams } from '../../lib/format';
import { Notice } from '../../parts/Notice';
import { NumberField } from '../../parts/NumberField';
import { SideDrawer } from '../../parts/SideDrawer';
import { IngredientPick } from '../pantry/IngredientPick';
import { type DrinkEdit, removeComponent, ROLES, setAmount, setComponent } from './edits';
import classes from './Drinks.module.css';

interface ComponentDrawerProps {
  document: DrinkDocument;
  id: string;
  report: DrinkSizes | null;
  problem: ApiProblem | null;
  readOnly: boolean;
  onEdit: (of: string, edit: DrinkEdit) => void;
  onClose: () => void;
}

/** One thing in the cup: how much of it in every size, and how it is measured, warmed, frothed or brewed. */
export function ComponentDrawer({ document, id, report, problem, readOnly, onEdit, onClose }: ComponentDrawerProps) {
  const component = document.components.find((each) => each.id === id);
  const titles = useQuery(titlesQuery(component ? [component.substance] : [])).data ?? {};
  const kitchen = useQuery(kitchenQuery).data?.kitchen;
  if (!component) return null;
  const read = report?.components.find((each) => each.id === id);
  const title = component.name ?? read?.title ?? titles[component.substance] ?? component.substance;
  const put = (of: string, change: Partial<DrinkComponent>) => onEdit(`${of} ${id}`, setComponent(id, change));
  const at = (field: string) => problem?.textFor(`components.${id}.${field}`);
  const substanceWrong = at('substance') ?? at('brew');
  return (
    <SideDrawer opened title={title} closeLabel={`Close ${title}`} width={520} onClose={onClose}>
      <div className={classes.form}>
        {substanceWrong && <Notice tone="stop" text={substanceWrong} />}
        <IngredientPick
          label="What it is"
          value={component.substance}
          title={titles[component.substance]}
          size="md"
          onChoose={(hit) => !readOnly && put('substance', { substance: hit.id, name: null })}
        />
        <NativeSelect
          size="md"
          label="What it is in the cup"
          disabled={readOnly}
          value={component.role}
          data={ROLES}
          onChange={(event) => put('role', { role: event.currentTarget.value as NonNullable<DrinkComponent['role']> })}
        />
        <fieldset className={classes.amounts}>
          <legend>How much in each size</legend>
          <p className={classes.small}>
            15 g, 2 strokes, 180 ml, 1 tbsp, to the line. Leave a size empty to leave it out.
          </p>
          {at('amounts') && !document.sizes.some((size) => at(`amounts.${size.id}`)) && (
            <Notice tone="stop" text={at('amounts')!} />
          )}
          {document.sizes.map((size) => {
            const of = read?.in_sizes.find((each) => each.size === size.id);
            return (
              <div key={size.id} className={classes.amount}>
                <TextInput
                  size="md"
                  label={size.name}
                  readOnly={readOnly}
                  value={component.amounts?.[size.id] ?? ''}
                  error={at(`amounts.${size.id}`)}
                  onChange={(event) => {
                    const text = event.currentTarget.value;
                    onEdit(`amount ${id} ${size.id}`, setAmount(id, size.id, text));
                  }}
                />
                <span className={classes.small}>
                  {of && `${grams(of.grams)} g${of.ml == null ? '' : `, ${figure(of.ml)} ml`}`}
                </span>
              </div>
            );
          })}
        </fieldset>
        <NumberField
          shown
          size="md"
          label="A stroke of its pump gives"
          description={`for amounts in strokes; the kitchen's gives ${figure(kitchen?.pump_ml ?? 8, 1)} ml`}
          unit="ml"
          low={0.1}
          high={100}
          readOnly={readOnly}
          value={component.stroke_ml ?? null}
          placeholder={figure(kitchen?.pump_ml ?? 8, 1)}
          onNumber={(stroke_ml) => put('stroke', { stroke_ml })}
          onClear={() => put('stroke', { stroke_ml: null })}
        />
        <div className={classes.pair}>
          <NumberField
            shown
            size="md"
            label="Poured at"
            description="else as it is stored; coffee and tea 70 °C"
            unit="°C"
            low={0}
            high={100}
            readOnly={readOnly}
            value={component.poured_c ?? null}
            placeholder="as stored"
            onNumber={(poured_c) => put('poured', { poured_c })}
            onClear={() => put('poured', { poured_c: null })}
          />
          <NumberField
            shown
            size="md"
            label="Steamed to"
            description="the steam's water stays in it"
            unit="°C"
            low={21}
            high={95}
            readOnly={readOnly}
            value={component.steamed_c ?? null}
            placeholder="not steamed"
            onNumber={(steamed_c) => put('steamed', { steamed_c })}
            onClear={() => put('steamed', { steamed_c: null })}
          />
        </div>
        {component.role !== 'ice' && <Air component={component} readOnly={readOnly} put={put} />}
        {(component.role === 'coffee' || component.role === 'tea') && (
          <Brew component={component} readOnly={readOnly} put={put} />
        )}
        {component.role === 'foam' && (
          <NumberField
            shown
            size="md"
            label="A siphon gives in a second"
            description="for amounts in seconds: weigh what ten seconds give"
            unit="g"
            low={0.1}
            high={200}
            readOnly={readOnly}
            value={component.siphon_g_s ?? null}
            placeholder="no siphon"
            onNumber={(siphon_g_s) => put('siphon', { siphon_g_s })}
            onClear={() => put('siphon', { siphon_g_s: null })}
          />
        )}
        {component.role === 'coffee' && (
          <p className={classes.small}>
            Hot drinks scald: say so on the cup, and keep hands off the wand and the spout.
          </p>
        )}
        {!readOnly && (
          <Button
            variant="default"
            onClick={() => {
              onEdit(`remove ${id}`, removeComponent(id));
              onClose();
            }}
          >
            Take it out of the cup
          </Button>
        )}
      </div>
    </SideDrawer>
  );
}

interface PartProps {
  component: DrinkComponent;
  readOnly: boolean;
  put: (of: string, change: Partial<DrinkComponent>) => void;
}

/** Air that is beaten in at the bar, as a range: a cup of the foam weighed against a cup of its liquid says it. */
function Air({ component, readOnly, put }: PartProps) {
  return (
    <fieldset className={classes.amounts}>
      <legend>Air beaten in at the bar</legend>
      <p className={classes.small}>Millilitres of air in 100 ml of it. Foam of ours brings its own.</p>
      <BandFields
        name="Air"
        unit="ml"
        high={1000}
        placeholder="none"
        value={component.air ?? null}
        readOnly={readOnly}
        onBand={(air) => put('air', { air })}
      />
    </fieldset>
  );
}

type Band = NonNullable<DrinkComponent['air']>;

interface BandFieldsProps {
  name: string;
  unit: string;
  high: number;
  placeholder: string;
  value: Band | null;
  readOnly: boolean;
  onBand: (band: Band | null) => void;
}

/** Least, likely, most. What is typed first is all three; from then on an end that is passed goes along. */
function BandFields({ name, unit, high, placeholder, value, readOnly, onBand }: BandFieldsProps) {
  const set = (end: keyof Band, typed: number) => {
    const was = value ?? { low: typed, likely: typed, high: typed };
    if (end === 'low') onBand({ low: typed, likely: Math.max(was.likely, typed), high: Math.max(was.high, typed) });
    else if (end === 'high')
      onBand({ low: Math.min(was.low, typed), likely: Math.min(was.likely, typed), high: typed });
    else onBand({ low: Math.min(was.low, typed), likely: typed, high: Math.max(was.high, typed) });
  };
  return (
    <div className={classes.triple}>
      {(['low', 'likely', 'high'] as const).map((end) => (
        <NumberField
          key={end}
          shown
          size="md"
          label={`${name}, ${{ low: 'least', likely: 'likely', high: 'most' }[end]}`}
          unit={unit}
          low={0}
          high={high}
          readOnly={readOnly}
          value={value?.[end] ?? null}
          placeholder={placeholder}
          onNumber={(typed) => set(end, typed)}
          onClear={() => onBand(null)}
        />
      ))}
    </div>
  );
}

/** How much pours for a gram of coffee or tea, and how strong it comes out: no product can say, so it is a range. */
function Brew({ component, readOnly, put }: PartProps) {
  const brew = component.brew;
  return (
    <fieldset className={classes.amounts}>
      <legend>Brewed here</legend>
      <p className={classes.small}>For ground coffee and dry tea. Amounts in the sizes are of what pours.</p>
      <NumberField
        shown
        size="md"
        label="Grams out per gram in"
        description="2 for espresso, 15 to 17 for filter, 50 to 80 for tea"
        unit="g"
        low={0.5}
        high={100}
        readOnly={readOnly}
        value={brew?.out_per_in ?? null}
        placeholder="bought as it pours"
        onNumber={(out_per_in) => put('brew', { brew: { ...brew, out_per_in } })}
        onClear={() => put('brew', { brew: null })}
      />
      {brew && (
        <BandFields
          name="Dissolved"
          unit="%"
          high={40}
          placeholder="usual"
          value={brew.dissolved ?? null}
          readOnly={readOnly}
          onBand={(dissolved) => put('brew', { brew: { ...brew, dissolved } })}
        />
      )}
    </fieldset>
  );
}
