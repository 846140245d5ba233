import { TextInput, type TextInputProps } from '@mantine/core';
import { useState } from 'react';
import { type Bounds, figureIn, outside } from '../lib/figures';
import classes from './NumberField.module.css';

interface NumberFieldProps extends Bounds, Pick<TextInputProps, 'description' | 'size' | 'mt' | 'className'> {
  label: string;
  /** Nothing where it is left open. */
  value: number | null;
  unit: string;
  error?: string | undefined;
  readOnly?: boolean;
  /** Whether the label stands above the field. @default false */
  shown?: boolean;
  placeholder?: string | undefined;
  /** What emptying the field does; without it an empty field is no number. */
  onClear?: (() => void) | undefined;
  onNumber: (value: number) => void;
  /** Told whether what stands in the field is refused. */
  onWrong?: (wrong: boolean) => void;
}

/** A figure typed as people write them: what is no number yet, or out of bounds, stays on screen and says so; nothing is clipped. */
export function NumberField({
  label,
  value,
  unit,
  error,
  readOnly = false,
  shown = false,
  placeholder,
  low,
  high,
  above,
  whole,
  size = 'xs',
  description,
  mt,
  className,
  onClear,
  onNumber,
  onWrong,
}: NumberFieldProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const bounds = { low, high, above, whole };
  const complaint = (text: string): string | undefined => {
    if (onClear && text.trim() === '') return undefined;
    const found = figureIn(text, unit);
    return found.wrong ?? outside(found.value!, unit, bounds);
  };
  const own = typed === null ? undefined : complaint(typed);
  return (
    <TextInput
      size={size}
      mt={mt}
      description={description}
      aria-label={shown ? undefined : label}
      label={shown ? label : undefined}
      placeholder={placeholder}
      className={className ?? (shown || size !== 'xs' ? undefined : classes.number)}
      value={typed ?? (value === null || !Number.isFinite(value) ? '' : String(Number(value.toPrecision(7))))}
      error={own ?? error}
      readOnly={readOnly}
      inputMode="decimal"
      autoComplete="off"
      rightSection={unit ? <span className={classes.unit}>{unit}</span> : undefined}
      rightSectionWidth={unit ? Math.max(26, unit.length * 8 + (unit.length > 3 ? 18 : 8)) : undefined}
      onFocus={(event) => !readOnly && event.currentTarget.select()}
      onChange={(event) => {
        const text = event.currentTarget.value;
        setTyped(text);
        const wrong = complaint(text);
        onWrong?.(wrong !== undefined);
        if (wrong !== undefined) return;
        if (text.trim() === '') onClear?.();
        else onNumber(figureIn(text, unit).value!);
      }}
      onBlur={() => own === undefined && setTyped(null)}
    />
  );
}
