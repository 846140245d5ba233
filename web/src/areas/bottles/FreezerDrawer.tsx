import { Button } from '@mantine/core';
import type { Container } from '../../api/types';
import { figure } from '../../lib/format';
import { Notice } from '../../parts/Notice';
import { SideDrawer } from '../../parts/SideDrawer';
import { useBottleEntries } from './useBottleEntries';
import { bottleName, until } from './words';
import classes from './Bottles.module.css';

interface FreezerDrawerProps {
  opened: boolean;
  /** The containers of the batch that are still there. */
  containers: Container[];
  onClose: () => void;
}

/** Which bottles of a batch go into the freezer or come out of it: each has days of its own. */
export function FreezerDrawer({ opened, containers, onClose }: FreezerDrawerProps) {
  return (
    <SideDrawer
      opened={opened}
      title="Freezer, bottle by bottle"
      closeLabel="Close the freezer"
      width={460}
      onClose={onClose}
    >
      {opened && <Bottles containers={containers} />}
    </SideDrawer>
  );
}

function Bottles({ containers }: { containers: Container[] }) {
  const { entries, state } = useBottleEntries();
  // What was just pressed counts at once.
  const frozen = (each: Container) => {
    const last = state.waiting.filter((entry) => entry.container === each.id).at(-1)?.movement.what.kind;
    return last === 'frozen' || (last !== 'thawed' && each.frozen);
  };
  const order = [...containers].sort((a, b) => a.number - b.number);
  // What must be thrown away is not kept longer by the cold.
  const outside = order.filter((each) => !frozen(each) && each.haste !== 'throw');
  const inside = order.filter(frozen);
  const turn = (those: Container[], kind: 'frozen' | 'thawed') => {
    for (const each of those) entries.enter(each.id, { kind });
  };
  return (
    <>
      {!state.keeps && <Notice tone="look" text="This browser keeps nothing: leave this page open until it is sent." />}
      {state.refused.map(({ entry, why }) => (
        <Notice key={entry.movement.id} tone="stop" text={`Not taken. ${why}`}>
          <Button variant="default" h={48} onClick={() => entries.drop(entry.movement.id)}>
            Discard
          </Button>
        </Notice>
      ))}
      <div className={classes.presses}>
        {outside.length > 0 && (
          <Button h={60} fz={19} fullWidth onClick={() => turn(outside, 'frozen')}>
            {outside.length === 1 ? 'One into the freezer' : `All ${outside.length} into the freezer`}
          </Button>
        )}
        {inside.length > 0 && (
          <Button h={60} fz={19} fullWidth variant="default" onClick={() => turn(inside, 'thawed')}>
            {inside.length === 1 ? 'One out, to thaw in the fridge' : `All ${inside.length} out, to thaw in the fridge`}
          </Button>
        )}
      </div>
      <ul className={classes.freezer} aria-label="Bottles of this batch">
        {order.map((each) => {
          const name = bottleName(each);
          return (
            <li key={each.id}>
              <span>
                <strong>{name}</strong>
                <span className={classes.small}>
                  {figure(each.mass_g)} g · {frozen(each) === each.frozen ? until(each) : 'saving'}
                </span>
              </span>
              <Button
                variant="default"
                h={52}
                fz={18}
                disabled={each.haste === 'throw' && !frozen(each)}
                aria-label={`${frozen(each) ? 'Out of' : 'Into'} the freezer: ${name}`}
                onClick={() => turn([each], frozen(each) ? 'thawed' : 'frozen')}
              >
                {frozen(each) ? 'Out of' : 'Into'} the freezer
              </Button>
            </li>
          );
        })}
      </ul>
    </>
  );
}
