import { ActionIcon, Button, NativeSelect, TextInput } from '@mantine/core';
import { IconX } from '@tabler/icons-react';
import { useState } from 'react';
import type { Kitchen } from '../../api/types';
import { figureIn } from '../../lib/figures';
import { Card } from '../../parts/Card';
import { MEASURES } from './measures';
import classes from './KitchenForm.module.css';
import { EquipmentCard } from './EquipmentCard';

type ThingList = 'pots' | 'burners' | 'scales' | 'sieves';

interface Column {
  field: string;
  title: string;
  unit: string;
  /** Shown times this: efficiency is a share and shown in percent. @default 1 */
  times?: number;
}

const LISTS: { list: ThingList; title: string; one: string; columns: Column[]; fresh: Record<string, number> }[] = [
  {
    list: 'pots',
    title: 'Pots',
    one: 'pot',
    columns: [
      { field: 'tare_g', title: 'Empty', unit: 'g' },
      { field: 'diameter_cm', title: 'Inside width', unit: 'cm' },
      { field: 'capacity_ml', title: 'To the brim', unit: 'ml' },
    ],
    fresh: { tare_g: 0, diameter_cm: 24, capacity_ml: 5000 },
  },
  {
    list: 'burners',
    title: 'Burners',
    one: 'burner',
    columns: [
      { field: 'power_w', title: 'Power', unit: 'W' },
      { field: 'efficiency', title: 'Into the pot', unit: '%', times: 100 },
    ],
    fresh: { power_w: 2000, efficiency: 0.4 },
  },
  {
    list: 'scales',
    title: 'Scales',
    one: 'scale',
    columns: [
      { field: 'capacity_g', title: 'Carries', unit: 'g' },
      { field: 'resolution_g', title: 'Reads to', unit: 'g' },
    ],
    fresh: { capacity_g: 5000, resolution_g: 1 },
  },
  {
    list: 'sieves',
    title: 'Sieves and cloths',
    one: 'sieve',
    columns: [{ field: 'mesh_um', title: 'Mesh', unit: 'µm' }],
    fresh: { mesh_um: 90 },
  },
];

type PlainField =
  | 'altitude_m'
  | 'room_c'
  | 'fridge_c'
  | 'film_g'
  | 'cake_uptake_g_per_g'
  | 'efficiency_spread'
  | 'pump_ml'
  | 'holding_c'
  | 'chilled_days';

const BAND = [
  { end: 'low', title: 'Low' },
  { end: 'typical', title: 'Typical' },
  { end: 'high', title: 'High' },
] as const;

interface KitchenFormProps {
  kitchen: Kitchen;
  readOnly: boolean;
  /** What is wrong at a path below the kitchen: “altitude_m”, “pots.<id>.tare_g”. */
  errorAt: (path: string) => string | undefined;
  onChange: (kitchen: Kitchen) => void;
}

/** The kitchen as a form. */
export function KitchenForm({ kitchen, readOnly, errorAt, onChange }: KitchenFormProps) {
  const plain = (field: PlainField, label: string, unit: string, description?: string, times = 1) => (
    <Figure
      label={label}
      unit={unit}
      description={description}
      value={kitchen[field] * times}
      readOnly={readOnly}
      error={errorAt(field)}
      onNumber={(value) => onChange({ ...kitchen, [field]: value / times })}
    />
  );
  const band = (field: 'simmer_kg_m2h' | 'steady_kg_m2h', label: string) => (
    <fieldset className={classes.band}>
      <legend>{label}</legend>
      <div>
        {BAND.map(({ end, title }) => (
          <Figure
            key={end}
            label={title}
            unit=""
            value={kitchen[field][end]}
            readOnly={readOnly}
            error={errorAt(`${field}.${end}`)}
            onNumber={(value) => onChange({ ...kitchen, [field]: { ...kitchen[field], [end]: value } })}
          />
        ))}
      </div>
      <span className={classes.unit}>kg of water per m² of pot and hour</span>
      {errorAt(field) && <span className={classes.wrong}>{errorAt(field)}</span>}
    </fieldset>
  );
  return (
    <div className={classes.form}>
      <Card title="Place">
        <div className={classes.plain}>
          {plain('altitude_m', 'Altitude', 'm', 'Higher up, water boils cooler.')}
          {plain('room_c', 'Kitchen and store', '°C')}
          {plain('fridge_c', 'Fridge', '°C', 'Decides what crystallises.')}
          {plain('holding_c', 'Cold holding, at most', '°C', 'By your local rule: 5 °C in most places, 8 °C in some.')}
          {plain('chilled_days', 'Chilled food keeps', 'days', 'By your local rule, the day of making being day one.')}
          <NativeSelect
            label="Cups and spoons"
            description="Changing it changes what they weigh in every formula."
            inputWrapperOrder={['label', 'input', 'description', 'error']}
            value={kitchen.measures}
            disabled={readOnly}
            data={MEASURES}
            onChange={(e) => onChange({ ...kitchen, measures: e.currentTarget.value as Kitchen['measures'] })}
          />
        </div>
      </Card>
      <Card title="Estimates to start from" aside="your own log will correct them">
        <div className={classes.plain}>
          {plain('film_g', 'A poured-out pot keeps', 'g')}
          {plain('cake_uptake_g_per_g', 'A gram of strained solids keeps', 'g')}
          {plain('pump_ml', 'A pump stroke gives', 'ml', 'Weigh ten strokes to know yours.')}
          {plain('efficiency_spread', 'A burner may be off by', '%', 'Widens every boiling time.', 100)}
          {band('simmer_kg_m2h', 'A simmer takes off')}
          {band('steady_kg_m2h', 'A steady boil takes off')}
        </div>
      </Card>
      {LISTS.map((list) => (
        <Things key={list.list} {...list} kitchen={kitchen} readOnly={readOnly} errorAt={errorAt} onChange={onChange} />
      ))}
      <EquipmentCard kitchen={kitchen} readOnly={readOnly} errorAt={errorAt} onChange={onChange} />
    </div>
  );
}

type ThingsProps = (typeof LISTS)[number] & KitchenFormProps;
type Thing = { id: string; name: string } & Record<string, unknown>;

function Things({ list, title, one, columns, fresh, kitchen, readOnly, errorAt, onChange }: ThingsProps) {
  const things = kitchen[list] as unknown as Thing[];
  const put = (next: Thing[]) => onChange({ ...kitchen, [list]: next } as Kitchen);
  const patch = (id: string, change: Record<string, unknown>) =>
    put(things.map((thing) => (thing.id === id ? { ...thing, ...change } : thing)));
  const add = () => {
    let n = things.length + 1;
    while (things.some((thing) => thing.id === `${one}-${n}`)) n += 1;
    put([...things, { id: `${one}-${n}`, name: `${one[0]!.toUpperCase()}${one.slice(1)} ${n}`, ...fresh }]);
  };
  return (
    <Card title={title}>
      {things.length === 0 && <p className={classes.none}>None yet.</p>}
      <ul className={classes.things}>
        {things.map((thing) => (
          <li key={thing.id} className={classes.thing}>
            <TextInput
              label={`Name of ${one}`}
              value={thing.name}
              readOnly={readOnly}
              error={errorAt(`${list}.${thing.id}.name`)}
              onChange={(e) => patch(thing.id, { name: e.currentTarget.value })}
            />
            {columns.map(({ field, title: label, unit, times = 1 }) => (
              <Figure
                key={field}
                label={label}
                unit={unit}
                value={Number(thing[field]) * times}
                readOnly={readOnly}
                error={errorAt(`${list}.${thing.id}.${field}`)}
                onNumber={(value) => patch(thing.id, { [field]: value / times })}
              />
            ))}
            {!readOnly && (
              <ActionIcon
                variant="subtle"
                color="gray"
                size={36}
                aria-label={`Remove ${thing.name}`}
                onClick={() => put(things.filter((each) => each.id !== thing.id))}
              >
                <IconX size={17} />
              </ActionIcon>
            )}
          </li>
        ))}
      </ul>
      {!readOnly && (
        <Button variant="default" onClick={add} className={classes.add}>
          Add a {one}
        </Button>
      )}
    </Card>
  );
}

interface FigureProps {
  label: string;
  unit: string;
  value: number;
  description?: string | undefined;
  error?: string | undefined;
  readOnly: boolean;
  onNumber: (value: number) => void;
}

/** A labelled figure; what is not a number stays and says so. */
function Figure({ label, unit, value, description, error, readOnly, onNumber }: FigureProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const own = typed !== null ? figureIn(typed, unit).wrong : undefined;
  return (
    <TextInput
      label={label}
      description={description}
      inputWrapperOrder={['label', 'input', 'description', 'error']}
      value={typed ?? String(Number(value.toPrecision(7)))}
      error={own ?? error}
      readOnly={readOnly}
      inputMode="decimal"
      rightSection={<span className={classes.unit}>{unit}</span>}
      rightSectionWidth={unit.length > 3 ? 54 : undefined}
      onChange={(e) => {
        setTyped(e.currentTarget.value);
        const { value: number } = figureIn(e.currentTarget.value, unit);
        if (number !== undefined) onNumber(number);
      }}
      onBlur={() => own === undefined && setTyped(null)}
    />
  );
}
