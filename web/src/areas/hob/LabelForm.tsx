import { Button, SegmentedControl, Select, TextInput } from '@mantine/core';
import { useState } from 'react';
import type { BatchOut, KeepingReport, What } from '../../api/types';
import { useMay } from '../../app/person';
import { NumberField } from '../../parts/NumberField';
import classes from './hob.module.css';

const STORE = [
  { value: 'chilled', label: 'Keep chilled' },
  { value: 'cool', label: 'Keep cool and dark' },
  { value: 'frozen', label: 'Keep frozen' },
];
/** What the second label says. It is the cook's to choose: food codes differ, and so do products. */
const OPENED = [
  { value: 'keep_chilled', label: 'Keep chilled' },
  { value: 'may_stand_out', label: 'May stand out' },
  { value: 'discard_four_hours', label: 'Discard four hours after leaving the cold' },
];
const SIZES = [
  { value: '90x60', label: '90 × 60 mm' },
  { value: '62x40', label: '62 × 40 mm' },
];
const PAPER = [
  { value: 'label', label: 'A label printer' },
  { value: 'a4', label: 'Sheets of A4, to cut' },
];

interface LabelFormProps {
  id: string;
  /** How many bottles were filled. */
  filled: number;
  /** What may be said of keeping: it decides what stands under “use by”. */
  keeping: KeepingReport;
  useBy: string | null;
  /** What stands there where there is no day, and what decides the day or must be known first. */
  instead: string;
  why: string;
  allergens: BatchOut['allergens'];
  enter: (what: What) => void;
}

/** “Wed 4 Mar 2026”. */
function day(date: string): string {
  return new Date(`${date}T12:00:00`).toLocaleDateString('en-GB', {
    weekday: 'short',
    day: 'numeric',
    month: 'short',
    year: 'numeric',
  });
}

/** What the tables say of a bottle that stands out; the label is the cook's to choose all the same. */
function standsOut(keeping: KeepingReport, opened: string): string {
  const defers = 'Your local food code and a qualified person decide.';
  if (keeping.verdict === 'not_controlled')
    return `By the tables it does not need to be kept cold: a pump bottle may stand out. ${defers}`;
  const known =
    keeping.verdict === 'ask' ? 'Until its keeping is known it is held cold' : 'By the tables it is held cold';
  const over = opened === 'may_stand_out' ? ' This label says otherwise.' : '';
  return `${known}: a pump bottle that left the cold is discarded after four hours (FDA Food Code 2022, 3-501.19).${over} ${defers}`;
}

/** Labels for the bottles as they were made, and a second one for the day a bottle is opened. */
export function LabelForm({ id, filled, keeping, useBy, instead, why, allergens, enter }: LabelFormProps) {
  const mayCook = useMay('cook');
  const [which, setWhich] = useState('made');
  const [dose, setDose] = useState('');
  const [store, setStore] = useState('chilled');
  const [opened, setOpened] = useState('keep_chilled');
  const [size, setSize] = useState('90x60');
  const [paper, setPaper] = useState('label');
  const [copies, setCopies] = useState(Math.min(200, Math.max(1, filled)));
  const [wrong, setWrong] = useState(false);
  const count = copies;
  const ask: Record<string, string> = which === 'made' ? { dose, store } : { which, opened };
  const query = new URLSearchParams({ ...ask, size, paper, copies: String(count) });
  const says =
    which === 'made'
      ? [STORE.find((each) => each.value === store)?.label, dose.trim() && `dose ${dose.trim()}`]
          .filter(Boolean)
          .join(', ')
      : OPENED.find((each) => each.value === opened)?.label;
  return (
    <section className={classes.panel} aria-label="Labels">
      <h2>Labels</h2>
      <SegmentedControl
        fullWidth
        size="lg"
        mb="sm"
        aria-label="Which label"
        value={which}
        onChange={setWhich}
        data={[
          { value: 'made', label: 'For the bottles' },
          { value: 'opened', label: 'For the day one is opened' },
        ]}
      />
      <div className={classes.row}>
        {which === 'made' ? (
          <>
            <TextInput
              size="md"
              label="Dose, as printed"
              placeholder="20 g in a Regular"
              maxLength={120}
              value={dose}
              onChange={(event) => setDose(event.currentTarget.value)}
            />
            <Select
              size="md"
              label="Store"
              allowDeselect={false}
              value={store}
              onChange={(next) => setStore(next ?? 'chilled')}
              data={STORE}
            />
          </>
        ) : (
          <Select
            size="md"
            label="Once it is open"
            allowDeselect={false}
            value={opened}
            onChange={(next) => setOpened(next ?? 'keep_chilled')}
            data={OPENED}
          />
        )}
        <Select
          size="md"
          label="Size"
          allowDeselect={false}
          value={size}
          onChange={(next) => setSize(next ?? '90x60')}
          data={SIZES}
        />
        <Select
          size="md"
          label="Printed on"
          allowDeselect={false}
          value={paper}
          onChange={(next) => setPaper(next ?? 'label')}
          data={PAPER}
        />
        <NumberField
          shown
          size="md"
          label="How many"
          unit=""
          low={1}
          high={200}
          whole
          value={copies}
          onNumber={setCopies}
          onWrong={setWrong}
        />
      </div>
      <div className={classes.buttons}>
        <Button
          mt="sm"
          component="a"
          href={`/api/v1/batches/${id}/label.pdf?${query.toString()}`}
          data-disabled={wrong || undefined}
          aria-disabled={wrong}
          download
          onClick={(event) =>
            wrong
              ? event.preventDefault()
              : mayCook && enter({ kind: 'labelled', label: which, count, says: says ?? '' })
          }
        >
          Labels, PDF
        </Button>
      </div>
      {which === 'made' && allergens.length > 0 && (
        <p>
          <strong>
            Contains{' '}
            {allergens.map((each) => (each.certain ? each.allergen : `${each.allergen} (may contain)`)).join(', ')}.
          </strong>
          {allergens.map((each) => each.why && <span key={each.allergen}> {`${each.allergen}: ${each.why}.`}</span>)}
        </p>
      )}
      <p className={classes.quiet}>
        {which === 'made'
          ? `Printed as use by: “${[useBy && day(useBy), instead].filter(Boolean).join(', ')}”. ${why}`
          : standsOut(keeping, opened)}
      </p>
    </section>
  );
}
