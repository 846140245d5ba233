import { useId } from 'react';
import type { ReadingReport } from '../api/types';
import { figure } from '../lib/format';
import { readingBand, readingValue } from '../lib/readingText';
import classes from './ReadingRow.module.css';

interface ReadingRowProps {
  reading: ReadingReport;
  open: boolean;
  onToggle: () => void;
}

/** One reading; it opens to its working. */
export function ReadingRow({ reading, open, onToggle }: ReadingRowProps) {
  const panel = useId();
  const band = readingBand(reading);
  return (
    <li className={classes.row} data-open={open || undefined}>
      <button type="button" className={classes.button} aria-expanded={open} aria-controls={panel} onClick={onToggle}>
        <span className={classes.title}>{reading.title}</span>
        <span className={classes.value}>
          {readingValue(reading)}
          {reading.unit && reading.value !== null && <span className={classes.unit}> {reading.unit}</span>}
        </span>
        <span className={classes.band}>{reading.value === null ? 'see why' : band}</span>
      </button>
      <div id={panel} hidden={!open} className={classes.working}>
        {reading.why_not && <p>{reading.why_not}</p>}
        <p>{reading.formula}</p>
        {reading.inputs.length > 0 && (
          <dl>
            {reading.inputs.map((input) => (
              <div key={input.name}>
                <dt>{input.name}</dt>
                <dd>
                  {input.value === null ? '—' : figure(input.value, Math.abs(input.value) < 10 ? 2 : 1)} {input.unit}
                </dd>
              </div>
            ))}
          </dl>
        )}
        <p className={classes.source}>
          Source: {reading.source}. Holds for {reading.valid}. Error: {reading.error}
          {band && reading.low !== null && reading.high !== null
            ? `. Band ${figure(reading.low, reading.digits)} to ${figure(reading.high, reading.digits)}: ${reading.band}`
            : ''}
          .
        </p>
      </div>
    </li>
  );
}
