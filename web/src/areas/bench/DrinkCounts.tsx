import { TextInput } from '@mantine/core';
import type { DrinkUsing } from '../../api/types';
import { figure, grams } from '../../lib/format';
import { valueIn, wrongIn } from '../../lib/figures';
import { Notice } from '../../parts/Notice';
import classes from './ScaleDrawer.module.css';

/** How many cups, as typed, by drink, version and size. */
export type Cups = Record<string, string>;

const keyOf = (drink: DrinkUsing, size: string) => `${drink.drink} ${drink.uses} ${size}`;

/** The cups that were counted, each with what it takes. */
export function cupsOf(drinks: DrinkUsing[], cups: Cups): { count: number; each_g: number }[] {
  return drinks.flatMap((drink) =>
    drink.sizes.flatMap((size) => {
      const count = valueIn(cups[keyOf(drink, size.id)] ?? '', '') ?? NaN;
      return size.grams && count > 0 ? [{ count, each_g: size.grams }] : [];
    }),
  );
}

interface DrinkCountsProps {
  drinks: DrinkUsing[] | undefined;
  failed: string | undefined;
  cups: Cups;
  onCups: (cups: Cups) => void;
}

/** How many of each drink that takes it, size by size. */
export function DrinkCounts({ drinks, failed, cups, onCups }: DrinkCountsProps) {
  if (failed) return <Notice tone="stop" text={failed} />;
  if (drinks?.length === 0)
    return <p className={classes.hint}>No drink takes it yet. Save a version, and add it to a drink.</p>;
  return (
    <>
      {drinks?.map((drink) => (
        <fieldset key={`${drink.drink} ${drink.uses}`} className={classes.drink} aria-label={drink.name}>
          <strong>{drink.name}</strong>
          {drink.sizes
            .filter((size) => size.grams)
            .map((size) => {
              const key = keyOf(drink, size.id);
              return (
                <TextInput
                  key={size.id}
                  label={`${size.name}, ${grams(size.grams!)} g each`}
                  aria-label={`${drink.name}, ${size.name}, ${figure(size.grams!, 1)} g each`}
                  inputMode="numeric"
                  placeholder="0"
                  value={cups[key] ?? ''}
                  error={cups[key] ? wrongIn(cups[key], '', { low: 0, high: 1_000_000 }) : undefined}
                  onChange={(event) => onCups({ ...cups, [key]: event.currentTarget.value })}
                />
              );
            })}
        </fieldset>
      ))}
    </>
  );
}
