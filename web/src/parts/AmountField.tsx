import { Button, Input } from '@mantine/core';
import { useEffect, useId, useLayoutEffect, useRef } from 'react';
import { grams } from '../lib/format';
import classes from './AmountField.module.css';

/** Letters that fit into the field as it usually stands, and written a little smaller. */
const LONG = 20;
const VERY_LONG = 26;

interface AmountFieldProps {
  /** What the amount is of, for its label: “Amount of pear juice”. */
  of: string;
  /** The amount as typed, or as last understood. */
  text: string;
  /** Grams it came to; null where it is not known yet. */
  mass_g: number | null;
  /** Band of those grams, where writing it in cups or spoons leaves one. */
  low_g?: number | null;
  high_g?: number | null;
  /** How it was read: “1.5 cup, metric: 250 ml each …”. */
  understood?: string;
  /** True where it follows other lines. */
  tied?: boolean;
  /** What is wrong and what to do. */
  error?: string | undefined;
  /** Where in the text the word that stopped it begins and ends. */
  errorAt?: readonly [number, number] | null | undefined;
  /** Texts that may have been meant. */
  choices?: readonly string[] | undefined;
  /** Shown while it is empty. @default examples of amounts */
  placeholder?: string;
  readOnly?: boolean;
  autoFocus?: boolean;
  onType: (text: string) => void;
  /** Enter: this amount is done. */
  onEnter?: () => void;
}

/** Takes an amount as a person writes it and shows grams beside it. */
export function AmountField({
  of,
  text,
  mass_g,
  low_g = null,
  high_g = null,
  understood,
  tied = false,
  error,
  errorAt,
  choices = [],
  placeholder = '430 g, 1 1/2 cups, as the water',
  readOnly = false,
  autoFocus = false,
  onType,
  onEnter,
}: AmountFieldProps) {
  const input = useRef<HTMLInputElement>(null);
  const wrong = useId();
  const typing = useRef(false);
  useEffect(() => {
    if (autoFocus) input.current?.focus();
  }, [autoFocus]);
  // The text may change under the hands: the first walk says what the amount is, or something is
  // undone. What was selected to be typed over stays selected, or typing would add to it.
  useLayoutEffect(() => {
    if (!typing.current && !readOnly && input.current === document.activeElement) input.current?.select();
  }, [text, readOnly]);
  const spread = mass_g !== null && low_g !== null && high_g !== null ? (high_g - low_g) / 2 : 0;
  const unsure = mass_g !== null && spread > 0.005 * mass_g;
  return (
    <div className={classes.root}>
      <Input
        ref={input}
        size="xs"
        aria-label={`Amount of ${of}`}
        value={text}
        readOnly={readOnly}
        error={Boolean(error)}
        withAria={false}
        aria-invalid={Boolean(error)}
        aria-describedby={error ? wrong : undefined}
        placeholder={placeholder}
        classNames={{ wrapper: classes.field, input: classes.input }}
        title={understood}
        data-long={text.length > VERY_LONG ? 'very' : text.length > LONG ? 'yes' : undefined}
        onChange={(event) => {
          typing.current = true;
          onType(event.currentTarget.value);
        }}
        onFocus={(event) => {
          if (!readOnly) event.currentTarget.select();
        }}
        onKeyDown={(event) => event.key === 'Enter' && onEnter?.()}
        onBlur={() => (typing.current = false)}
      />
      <span className={classes.grams} data-stale={error ? true : undefined}>
        {mass_g === null ? '—' : grams(mass_g)}
        <span className={classes.unit}> g</span>
        {unsure && <span className={classes.spread}>± {grams(spread)}</span>}
        {tied && (
          <span className={classes.tied} title="follows other lines" aria-label="follows other lines">
            =
          </span>
        )}
      </span>
      {error && (
        <div id={wrong} role="alert" className={classes.error}>
          {errorAt && errorAt[1] > errorAt[0] && errorAt[1] <= text.length && (
            <p className={classes.pointed} aria-hidden="true">
              {text.slice(0, errorAt[0])}
              <mark>{text.slice(...errorAt)}</mark>
              {text.slice(errorAt[1])}
            </p>
          )}
          {error}
          {!readOnly && choices.length > 0 && (
            <span className={classes.choices}>
              {choices.map((choice) => (
                <Button key={choice} size="compact-sm" variant="default" onClick={() => onType(choice)}>
                  {choice}
                </Button>
              ))}
            </span>
          )}
        </div>
      )}
    </div>
  );
}
