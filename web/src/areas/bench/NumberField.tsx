import { TextInput } from '@mantine/core';
import { useState } from 'react';
import { numberOf } from '../../lib/numberOf';
import classes from './MethodCard.module.css';

interface NumberFieldProps {
  label: string;
  /** Nothing where the document leaves it open. */
  value: number | null;
  unit: string;
  error?: string | undefined;
  readOnly?: boolean;
  /** Whether the label stands above the field. @default false */
  shown?: boolean;
  placeholder?: string;
  /** Between these it must lie, if they are given: what does not is not passed on. */
  low?: number;
  high?: number;
  /** @default 'xs' */
  size?: 'xs' | 'sm';
  /** What emptying the field does; without it an empty field is no number. */
  onClear?: () => void;
  onNumber: (value: number) => void;
}

/** A figure typed as text: what is not a number yet stays on screen and says so. */
export function NumberField({ label, value, unit, error, readOnly = false, shown = false, placeholder, low = -Infinity, high = Infinity, size = 'xs', onClear, onNumber }: NumberFieldProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const number = typed === null ? (value ?? 0) : numberOf(typed);
  const own = complaint();
  function complaint(): string | undefined {
    if (typed === null || (onClear && typed === '')) return undefined;
    if (!Number.isFinite(number)) return `Write a number in ${unit || 'figures'}.`;
    return number >= low && number <= high ? undefined : `Write ${low} to ${high}.`;
  }
  return (
    <TextInput
      size={size}
      aria-label={shown ? undefined : label}
      label={shown ? label : undefined}
      placeholder={placeholder}
      className={shown || size === 'sm' ? undefined : classes.number}
      value={typed ?? (value === null ? '' : String(Number(value.toPrecision(7))))}
      error={own ?? error}
      readOnly={readOnly}
      inputMode="decimal"
      rightSection={unit ? <span className={classes.unit}>{unit}</span> : undefined}
      rightSectionWidth={unit ? Math.max(26, unit.length * 8 + 8) : undefined}
      onFocus={(event) => !readOnly && event.currentTarget.select()}
      onChange={(event) => {
        const text = event.currentTarget.value;
        setTyped(text);
        if (text === '' && onClear) onClear();
        const next = numberOf(text);
        if (next >= low && next <= high && Number.isFinite(next)) onNumber(next);
      }}
      onBlur={() => own === undefined && setTyped(null)}
    />
  );
}
