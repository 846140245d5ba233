import { Button, NativeSelect, TextInput } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { titlesQuery } from '../../api/queries';
import type { DrinkDocument, DrinkSizes } from '../../api/types';
import { figure } from '../../lib/format';
import { SideDrawer } from '../../parts/SideDrawer';
import { IngredientPick } from '../pantry/IngredientPick';
import { type DrinkEdit, freshId } from './edits';
import classes from './Drinks.module.css';

type Level = NonNullable<DrinkDocument['levels']>[number];

interface LevelsDrawerProps {
  document: DrinkDocument;
  report: DrinkSizes | null;
  readOnly: boolean;
  onEdit: (of: string, edit: DrinkEdit) => void;
  onClose: () => void;
}

/** Levels of sweetness that keep the cup as full: another mix in place of a component, in as much; with what each really is. */
export function LevelsDrawer({ document, report, readOnly, onEdit, onClose }: LevelsDrawerProps) {
  const levels = document.levels ?? [];
  const titles = useQuery({
    ...titlesQuery([...document.components.map((each) => each.substance), ...levels.map((each) => each.substance)]),
    enabled: document.components.length > 0,
  }).data;
  const called = (substance: string) => titles?.[substance] ?? substance;
  const put = (id: string, change: Partial<Level>) =>
    onEdit(`level ${id}`, (drink) => ({
      ...drink,
      levels: (drink.levels ?? []).map((each) => (each.id === id ? { ...each, ...change } : each)),
    }));
  const first = document.components.find((each) => each.role === 'dose') ?? document.components[0];
  return (
    <SideDrawer opened title="Levels of sweetness" closeLabel="Close the levels" width={560} onClose={onClose}>
      <p className={classes.small}>
        The dose stays, only the mix changes: a weaker syrup, or tinned milk in another proportion. So the cup stays as
        full.
      </p>
      {levels.map((level) => {
        const read = report?.levels.find((each) => each.name === level.name);
        return (
          <fieldset key={level.id} className={classes.level} disabled={readOnly} aria-label={`Level ${level.name}`}>
            <TextInput
              size="md"
              label="The shop calls it"
              value={level.name}
              error={level.name.trim() === '' ? 'Name it.' : undefined}
              onChange={(event) => put(level.id, { name: event.currentTarget.value })}
            />
            <NativeSelect
              size="md"
              label="In place of"
              value={level.component}
              data={document.components.map((each) => ({ value: each.id, label: each.name ?? called(each.substance) }))}
              onChange={(event) => put(level.id, { component: event.currentTarget.value })}
            />
            <IngredientPick
              size="md"
              label="Comes"
              value={level.substance}
              title={called(level.substance)}
              onChoose={(hit) => put(level.id, { substance: hit.id })}
            />
            {read && (
              <p className={classes.small}>
                {report!.sizes
                  .map((size, index) => [size.name, read.sugars_100ml[index]] as const)
                  .filter(([, sugars]) => sugars != null)
                  .map(([name, sugars]) => `${name} ${figure(sugars!, 1)} g`)
                  .join(', ')}{' '}
                of sugars in 100 ml
                {read.share[0] != null && `: truly ${figure(100 * read.share[0])} % of the first level`}
              </p>
            )}
            {!readOnly && (
              <Button
                variant="subtle"
                aria-label={`Remove the level ${level.name}`}
                onClick={() =>
                  onEdit('remove level', (drink) => ({
                    ...drink,
                    levels: (drink.levels ?? []).filter((each) => each.id !== level.id),
                  }))
                }
              >
                Remove
              </Button>
            )}
          </fieldset>
        );
      })}
      {!readOnly && first && levels.length < 8 && (
        <Button
          mt={10}
          size="md"
          variant="default"
          onClick={() =>
            onEdit('add level', (drink) => {
              const taken = (drink.levels ?? []).map((each) => each.id);
              const level = {
                id: freshId(taken, 'level'),
                name: `Level ${taken.length + 1}`,
                component: first.id,
                substance: first.substance,
              };
              return { ...drink, levels: [...(drink.levels ?? []), level] };
            })
          }
        >
          Add a level
        </Button>
      )}
    </SideDrawer>
  );
}
