import { Checkbox } from '@mantine/core';
import type { Need } from '../../api/types';
import { figure } from '../../lib/format';
import { Notice } from '../../parts/Notice';
import { called, until } from '../bottles/words';
import classes from './BatchesScreen.module.css';

interface OwnProductsProps {
  needs: Need[];
  /** Line → the bottles it comes out of. */
  taken: Record<string, string[]>;
  onTake: (line: string, containers: string[]) => void;
}

/** What a batch takes of what is made here: the bottles there are, the first to use first, or what must be made first. */
export function OwnProducts({ needs, taken, onTake }: OwnProductsProps) {
  return needs.map((need) => {
    const chosen = taken[need.line] ?? [];
    const bottles = need.bottles.filter((each) => chosen.includes(each.id));
    const holds = bottles.reduce((sum, each) => sum + each.mass_g, 0);
    const batch = bottles[0]?.batch;
    return (
      <fieldset key={need.line} className={classes.needs}>
        <legend>
          {need.name}: {figure(need.mass_g)} g
        </legend>
        {need.short_g >= 1 && (
          <Notice
            tone="look"
            text={
              need.bottles.length === 0
                ? `There is no bottle of it. Make ${figure(need.mass_g)} g of ${need.name} first, or start and make it beside this.`
                : `All bottles together hold ${figure(need.mass_g - need.short_g)} g. Make ${figure(need.short_g)} g more first, or make less.`
            }
          />
        )}
        {need.bottles.map((bottle) => (
          <Checkbox
            key={bottle.id}
            size="md"
            checked={chosen.includes(bottle.id)}
            // What was measured of one batch goes into it: bottles of another are other matter.
            disabled={batch !== undefined && batch !== bottle.batch}
            label={`${called(bottle)} · ${figure(bottle.mass_g)} g · ${until(bottle)}`}
            onChange={(event) =>
              onTake(
                need.line,
                event.currentTarget.checked ? [...chosen, bottle.id] : chosen.filter((id) => id !== bottle.id),
              )
            }
          />
        ))}
        {chosen.length > 0 && holds < need.mass_g - 1 && (
          <p className={classes.look}>That holds {figure(holds)} g: choose another of the same batch, or make less.</p>
        )}
      </fieldset>
    );
  });
}
