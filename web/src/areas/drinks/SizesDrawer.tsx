import { Button, TextInput } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import type { ApiProblem } from '../../api/problem';
import { businessQuery } from '../../api/queries';
import type { DrinkDocument } from '../../api/types';
import { symbolOf } from '../../lib/useMoney';
import { Notice } from '../../parts/Notice';
import { NumberField } from '../../parts/NumberField';
import { SideDrawer } from '../../parts/SideDrawer';
import { addSize, type DrinkEdit, removeSize, setSize } from './edits';
import classes from './Drinks.module.css';

interface SizesDrawerProps {
  document: DrinkDocument;
  problem: ApiProblem | null;
  readOnly: boolean;
  onEdit: (of: string, edit: DrinkEdit) => void;
  onClose: () => void;
}

/** Cups, fill lines and prices; the window in which every size should stand. */
export function SizesDrawer({ document, problem, readOnly, onEdit, onClose }: SizesDrawerProps) {
  const currency = useQuery(businessQuery).data?.business.currency;
  const unit = currency ? symbolOf(currency).trim() : '';
  const sugars = document.sugars_window ?? null;
  const window_ = (change: { low?: number; high?: number }) =>
    onEdit('window', (drink) => {
      const next = { low: 0, high: 15, ...drink.sugars_window, ...change };
      return { ...drink, sugars_window: { low: Math.min(next.low, next.high), high: Math.max(next.low, next.high) } };
    });
  return (
    <SideDrawer opened title="Sizes" closeLabel="Close the sizes" width={640} onClose={onClose}>
      <div className={classes.form}>
        {document.sizes.map((size) => (
          <fieldset key={size.id} className={classes.amounts}>
            <legend>{size.name || 'A size without a name'}</legend>
            {problem?.textFor(`sizes.${size.id}`) && <Notice tone="stop" text={problem.textFor(`sizes.${size.id}`)!} />}
            <div className={classes.quad}>
              <TextInput
                size="md"
                label="Name"
                readOnly={readOnly}
                value={size.name}
                onChange={(event) => {
                  const name = event.currentTarget.value;
                  onEdit(`name ${size.id}`, setSize(size.id, { name }));
                }}
              />
              <NumberField
                shown
                size="md"
                label="Cup, to the brim"
                unit="ml"
                low={1}
                high={5000}
                readOnly={readOnly}
                value={size.cup_ml}
                onNumber={(cup_ml) => onEdit(`cup ${size.id}`, setSize(size.id, { cup_ml }))}
              />
              <NumberField
                shown
                size="md"
                label="Fill line"
                unit="ml"
                low={1}
                high={5000}
                readOnly={readOnly}
                value={size.fill_ml ?? null}
                placeholder="none"
                onNumber={(fill_ml) => onEdit(`line ${size.id}`, setSize(size.id, { fill_ml }))}
                onClear={() => onEdit(`line ${size.id}`, setSize(size.id, { fill_ml: null }))}
              />
              <NumberField
                shown
                size="md"
                label="Price without tax"
                unit={unit}
                low={0.01}
                high={100_000}
                readOnly={readOnly}
                value={size.price ?? null}
                placeholder="none"
                onNumber={(price) => onEdit(`price ${size.id}`, setSize(size.id, { price }))}
                onClear={() => onEdit(`price ${size.id}`, setSize(size.id, { price: null }))}
              />
            </div>
            {!readOnly && document.sizes.length > 1 && (
              <Button
                size="sm"
                variant="default"
                className={classes.apart}
                onClick={() => onEdit(`remove ${size.id}`, removeSize(size.id))}
              >
                Remove {size.name}
              </Button>
            )}
          </fieldset>
        ))}
        {!readOnly && document.sizes.length < 8 && (
          <Button variant="default" className={classes.apart} onClick={() => onEdit('add size', addSize())}>
            Add a size
          </Button>
        )}
        <fieldset className={classes.amounts}>
          <legend>What every size should keep to</legend>
          <div className={classes.triple}>
            <NumberField
              shown
              size="md"
              label="Sugars in 100 ml, from"
              unit="g"
              low={0}
              high={1000}
              readOnly={readOnly}
              value={sugars?.low ?? null}
              placeholder="no window"
              onNumber={(low) => window_({ low })}
              onClear={() => onEdit('window', (drink) => ({ ...drink, sugars_window: null }))}
            />
            <NumberField
              shown
              size="md"
              label="to"
              unit="g"
              low={0}
              high={1000}
              readOnly={readOnly}
              value={sugars?.high ?? null}
              placeholder="no window"
              onNumber={(high) => window_({ high })}
              onClear={() => onEdit('window', (drink) => ({ ...drink, sugars_window: null }))}
            />
            <NumberField
              shown
              size="md"
              label="Margin at least"
              unit="%"
              low={0}
              high={99}
              readOnly={readOnly}
              value={document.least_margin ?? null}
              placeholder="none"
              onNumber={(least_margin) => onEdit('margin', (drink) => ({ ...drink, least_margin }))}
              onClear={() => onEdit('margin', (drink) => ({ ...drink, least_margin: null }))}
            />
          </div>
        </fieldset>
      </div>
    </SideDrawer>
  );
}
