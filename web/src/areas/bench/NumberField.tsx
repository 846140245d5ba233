import { TextInput } from '@mantine/core';
import { useState } from 'react';
import { numberOf } from '../../lib/numberOf';
import classes from './MethodCard.module.css';

interface NumberFieldProps {
  label: string;
  value: number;
  unit: string;
  error?: string | undefined;
  readOnly?: boolean;
  onNumber: (value: number) => void;
}

/** A figure typed as text: what is not a number yet stays on screen and says so. */
export function NumberField({ label, value, unit, error, readOnly = false, onNumber }: NumberFieldProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const number = typed === null ? value : numberOf(typed);
  const own = Number.isFinite(number) ? undefined : `Write a number in ${unit || 'figures'}.`;
  return (
    <TextInput
      size="xs"
      aria-label={label}
      className={classes.number}
      value={typed ?? String(Number(value.toPrecision(7)))}
      error={own ?? error}
      readOnly={readOnly}
      inputMode="decimal"
      rightSection={unit ? <span className={classes.unit}>{unit}</span> : undefined}
      rightSectionWidth={unit ? Math.max(26, unit.length * 8 + 8) : undefined}
      onFocus={(event) => !readOnly && event.currentTarget.select()}
      onChange={(event) => {
        const text = event.currentTarget.value;
        setTyped(text);
        const next = numberOf(text);
        if (Number.isFinite(next)) onNumber(next);
      }}
      onBlur={() => own === undefined && setTyped(null)}
    />
  );
}
