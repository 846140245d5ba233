import { Button, SegmentedControl } from '@mantine/core';
import { useState } from 'react';
import type { KeepingReport, What } from '../../api/types';
import { figure } from '../../lib/format';
import { NumberField } from '../../parts/NumberField';
import classes from './hob.module.css';

interface BatchKeepingProps {
  keeping: KeepingReport;
  mayEnter: boolean;
  enter: (what: What) => void;
}

const ANSWERS = [
  { value: '', label: 'not answered' },
  { value: 'yes', label: 'yes' },
  { value: 'no', label: 'no' },
];

/** What was measured and answered of this batch itself: its pH, its heat, its packaging. */
export function BatchKeeping({ keeping, mayEnter, enter }: BatchKeepingProps) {
  const [ph, setPh] = useState<number | null>(null);
  const [heat, setHeat] = useState('');
  const [packed, setPacked] = useState('');
  if (keeping.dry) return null;
  const ready = ph !== null || heat !== '' || packed !== '';
  return (
    <section className={classes.panel} aria-label="Keeping of this batch">
      <h2>Keeping of this batch</h2>
      <p>
        {keeping.verdict === 'ask' && <strong>Note: </strong>}
        {keeping.words}
      </p>
      {keeping.questions.length > 0 && (
        <ul className={classes.todo}>
          {keeping.questions.map((question) => (
            <li key={question.code}>{question.words}</li>
          ))}
        </ul>
      )}
      {mayEnter && (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            if (!ready) return;
            enter({
              kind: 'assessed',
              ph,
              heat_treated: heat === '' ? null : heat === 'yes',
              packaged: packed === '' ? null : packed === 'yes',
            });
            setPh(null);
            setHeat('');
            setPacked('');
          }}
        >
          <div className={classes.row}>
            <NumberField
              shown
              label="pH, measured"
              value={ph}
              unit="pH"
              low={0}
              high={14}
              placeholder={
                keeping.ph_measured && keeping.ph_low != null && keeping.ph_high != null
                  ? `${figure((keeping.ph_low + keeping.ph_high) / 2, 1)} so far`
                  : 'not measured'
              }
              readOnly={false}
              onNumber={setPh}
              onClear={() => setPh(null)}
            />
            <div>
              <p className={classes.quiet}>All of it at 72 °C or more, nothing in after</p>
              <SegmentedControl
                size="md"
                aria-label="All of it at 72 °C or more, nothing in after"
                data={ANSWERS}
                value={heat}
                onChange={setHeat}
              />
            </div>
            <div>
              <p className={classes.quiet}>Filled and closed at once after the heat</p>
              <SegmentedControl
                size="md"
                aria-label="Filled and closed at once after the heat"
                data={ANSWERS}
                value={packed}
                onChange={setPacked}
              />
            </div>
          </div>
          <div className={classes.buttons}>
            <Button type="submit" mt="sm" variant="default" disabled={!ready}>
              Save for this batch
            </Button>
          </div>
        </form>
      )}
    </section>
  );
}
