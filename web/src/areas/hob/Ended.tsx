import { Button, NumberInput, Select, TextInput } from '@mantine/core';
import { useState } from 'react';
import type { BatchOut, SheetReport } from '../../api/types';
import { useMay } from '../../app/person';
import { figure } from '../../lib/format';
import { StartDialog } from '../batches/StartDialog';
import classes from './hob.module.css';

/** A batch at its end: what came of it, against what was planned, and what is handed out of it. */
export function Ended({ batch, sheet }: { batch: BatchOut; sheet: SheetReport }) {
  const mayCook = useMay('cook');
  const [again, setAgain] = useState(false);
  const reason = [...sheet.log].reverse().find((line) => line.kind === 'closed' && !line.undone)?.words;
  return (
    <>
      <h2 className={classes.title}>{sheet.status === 'finished' ? 'Finished' : `Stopped${reason ? reason.replace(/^stopped/, '') : ''}`}</h2>
      <p className={classes.quiet}>
        {figure(sheet.yield_g)} g {sheet.yield_measured ? 'filled and kept' : 'by the walk, not weighed'}, {figure(sheet.planned_yield_g)} g planned
        {sheet.waste_g > 0 && ` · ${figure(sheet.waste_g)} g thrown away`}
      </p>
      {sheet.status === 'stopped' && mayCook && (
        <div className={classes.buttons}>
          <Button onClick={() => setAgain(true)}>Start it again</Button>
        </div>
      )}
      <StartDialog opened={again} formula={batch.formula} onClose={() => setAgain(false)} />
      <PlanAgainstActual batch={batch} sheet={sheet} />
      {sheet.status === 'finished' && <LabelForm id={batch.id} filled={sheet.steps.reduce((sum, step) => sum + (step.fill?.filled ?? 0), 0)} />}
      <div className={classes.buttons}>
        <Button variant="default" component="a" href={`/api/batches/${batch.id}/run-sheet.pdf`} download>
          Run sheet, PDF
        </Button>
        <Button variant="default" component="a" href={`/api/batches/${batch.id}/log.csv`} download>
          Log, CSV
        </Button>
        <Button variant="default" component="a" href={`/api/batches/${batch.id}/batch.json`} download>
          Batch, JSON
        </Button>
      </div>
    </>
  );
}

function PlanAgainstActual({ batch, sheet }: { batch: BatchOut; sheet: SheetReport }) {
  const lines = sheet.steps.flatMap((step) => step.lines);
  const watched = new Map(sheet.deviations.filter((each) => each.reading !== null).map((each) => [each.id, each]));
  const readings = batch.report.walk.readings.filter((reading) => ['brix', 'yield_g', 'spice_finished', 'fat', 'sugars_100g'].includes(reading.id) && reading.value !== null);
  return (
    <section className={classes.panel} aria-label="Plan against actual">
      <h2>Plan against actual</h2>
      <table className={classes.table}>
        <thead>
          <tr>
            <th scope="col">
              <span className={classes.hidden}>What</span>
            </th>
            <th scope="col">planned</th>
            <th scope="col">actual</th>
            <th scope="col">off by</th>
          </tr>
        </thead>
        <tbody>
          {lines.map((line) => (
            <tr key={line.id} data-off={line.within === false || undefined}>
              <th scope="row">{line.title}</th>
              <td>{figure(line.target_g, line.target_g < 20 ? 2 : 0)} g</td>
              <td>{line.measured ? `${figure(line.measured.mass_g, line.target_g < 20 ? 2 : 0)} g` : 'as asked, not weighed'}</td>
              <td>{line.measured && off(line.measured.mass_g - line.target_g, line.target_g < 20 ? 2 : 0, 'g')}</td>
            </tr>
          ))}
          {readings.map((reading) => {
            const moved = watched.get(reading.id);
            const planned = moved?.planned ?? reading.value;
            return (
              <tr key={reading.id} data-off={moved?.beyond || undefined}>
                <th scope="row">{reading.title}</th>
                <td>{planned === null ? '—' : `${figure(planned, reading.digits)} ${reading.unit}`}</td>
                <td>{`${figure(reading.value!, reading.digits)} ${reading.unit}`}</td>
                <td>{planned !== null && off(reading.value! - planned, reading.digits, reading.unit)}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </section>
  );
}

/** “+ 12 g”, nothing where what is shown does not differ. */
function off(by: number, digits: number, unit: string): string {
  if (Math.abs(by) < 0.5 * 10 ** -digits) return '';
  return `${by > 0 ? '+' : '−'} ${figure(Math.abs(by), digits)} ${unit}`;
}

function LabelForm({ id, filled }: { id: string; filled: number }) {
  const [dose, setDose] = useState('');
  const [store, setStore] = useState<string>('chilled');
  const [size, setSize] = useState<string>('90x60');
  const [copies, setCopies] = useState<number | string>(Math.max(1, filled));
  const query = new URLSearchParams({ dose, store, size, copies: String(Number(copies) || 1) });
  return (
    <section className={classes.panel} aria-label="Labels">
      <h2>Labels</h2>
      <div className={classes.row}>
        <TextInput size="md" label="Dose, as it is to stand there" placeholder="20 g in a Regular" maxLength={120} value={dose} onChange={(event) => setDose(event.currentTarget.value)} />
        <Select
          size="md"
          label="Store"
          allowDeselect={false}
          value={store}
          onChange={(next) => setStore(next ?? 'chilled')}
          data={[
            { value: 'chilled', label: 'Keep chilled' },
            { value: 'cool', label: 'Keep cool and dark' },
            { value: 'frozen', label: 'Keep frozen' },
          ]}
        />
        <Select
          size="md"
          label="Size"
          allowDeselect={false}
          value={size}
          onChange={(next) => setSize(next ?? '90x60')}
          data={[
            { value: '90x60', label: '90 × 60 mm' },
            { value: '62x40', label: '62 × 40 mm' },
          ]}
        />
        <NumberInput size="md" label="How many" min={1} max={200} allowDecimal={false} value={copies} onChange={setCopies} hideControls />
      </div>
      <div className={classes.buttons}>
        <Button mt="sm" component="a" href={`/api/batches/${id}/label.pdf?${query.toString()}`} download>
          Labels, PDF
        </Button>
      </div>
      <p className={classes.quiet}>Use by stands there as “not assessed”: the app does not assess keeping yet. Go by your local food code and a qualified person.</p>
    </section>
  );
}
