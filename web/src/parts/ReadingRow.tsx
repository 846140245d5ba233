import { Button } from '@mantine/core';
import { IconLock, IconLockOpen } from '@tabler/icons-react';
import { type ReactNode, useId, useState } from 'react';
import type { ReadingReport } from '../api/types';
import { figure, fromTo } from '../lib/format';
import { figureIn } from '../lib/figures';
import { GLOSSARY } from '../lib/glossary';
import { readingBand, readingValue } from '../lib/readingText';
import classes from './ReadingRow.module.css';

interface ReadingRowProps {
  reading: ReadingReport;
  open: boolean;
  onToggle: () => void;
  /** Called with what was typed over the value; without it the value cannot be typed over. */
  onAsk?: ((value: number) => void) | undefined;
  /** Whether it stays where it is while another is typed over. */
  held?: boolean;
  /** Without it nothing can be held. */
  onHold?: (() => void) | undefined;
  /** More of its working than every reading has. */
  more?: ReactNode;
  /** What money is counted in, as EUR. @default '' */
  currency?: string;
}

/** One reading; it opens to its working, and its value can be typed over to ask for ways there. */
export function ReadingRow({
  reading,
  open,
  onToggle,
  onAsk,
  held = false,
  onHold,
  more,
  currency = '',
}: ReadingRowProps) {
  const panel = useId();
  const band = readingBand(reading);
  // What costs something has no unit of its own: it is in the money of the site.
  const unit = reading.unit || (reading.id.startsWith('cost') ? currency : '');
  return (
    <li className={classes.row} data-open={open || undefined}>
      <div className={classes.line}>
        <button type="button" className={classes.button} aria-expanded={open} aria-controls={panel} onClick={onToggle}>
          {reading.title}
        </button>
        <span className={classes.value}>
          {onAsk && reading.value !== null ? <Typeable reading={reading} onAsk={onAsk} /> : readingValue(reading)}
          {unit && reading.value !== null && <span className={classes.unit}> {unit}</span>}
        </span>
        {onHold && (reading.value !== null || held) && (
          <button
            type="button"
            className={classes.hold}
            aria-pressed={held}
            aria-label={`Hold ${reading.title}`}
            title={held ? 'Held while another is typed over. Press to let go.' : 'Hold it while another is typed over'}
            onClick={onHold}
          >
            {held ? <IconLock size={15} aria-hidden="true" /> : <IconLockOpen size={15} aria-hidden="true" />}
          </button>
        )}
        <span className={classes.band}>
          {reading.value === null ? (
            <button type="button" className={classes.why} onClick={onToggle}>
              see why
            </button>
          ) : (
            band
          )}
        </span>
      </div>
      <div id={panel} hidden={!open} className={classes.working}>
        {GLOSSARY[reading.id] && <p className={classes.meaning}>{GLOSSARY[reading.id]}</p>}
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
        {more}
        <p className={classes.source}>
          Source: {reading.source}. Holds for {reading.valid}. Error: {reading.error}
          {band && reading.low !== null && reading.high !== null
            ? `. Band ${fromTo(reading.low, reading.high, reading.digits)}: ${reading.band}`
            : ''}
          .
        </p>
      </div>
    </li>
  );
}

function Typeable({ reading, onAsk }: { reading: ReadingReport; onAsk: (value: number) => void }) {
  const [typed, setTyped] = useState<string | null>(null);
  const shown = readingValue(reading);
  const found = typed === null || typed.trim() === '' ? null : figureIn(typed, reading.unit);
  const number = found?.value ?? NaN;
  const wrong = found?.wrong;
  const ask = () => {
    if (!Number.isFinite(number)) return;
    onAsk(number);
    setTyped(null);
  };
  return (
    <>
      {typed !== null && Number.isFinite(number) && (
        <Button size="compact-sm" mr={8} onClick={ask} onMouseDown={(event) => event.preventDefault()}>
          Ways
        </Button>
      )}
      <input
        className={classes.input}
        style={{ width: `${Math.max(3, (typed ?? shown).length) + 0.6}ch` }}
        aria-label={`${reading.title}: type what you want`}
        aria-invalid={wrong !== undefined}
        title={wrong ?? 'Type what you want, then Enter, for ways to get there'}
        inputMode="decimal"
        autoComplete="off"
        value={typed ?? shown}
        onFocus={(event) => event.currentTarget.select()}
        onChange={(event) => setTyped(event.currentTarget.value)}
        onKeyDown={(event) => {
          if (event.key === 'Enter') ask();
          if (event.key === 'Escape') setTyped(null);
        }}
        onBlur={() => setTyped(null)}
      />
    </>
  );
}
