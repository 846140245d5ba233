import { Link } from 'react-router';
import type { Needs, ProductNeed } from '../../api/types';
import { day, figure, fromTo, grams } from '../../lib/format';
import { SideDrawer } from '../../parts/SideDrawer';
import classes from './plan.module.css';
import { kilograms, together } from './words';

interface NeedDrawerProps {
  needs: Needs;
  need: ProductNeed | null;
  onClose: () => void;
}

/** One product: how much on which day and where, how sure, and for what. */
export function NeedDrawer({ needs, need, onClose }: NeedDrawerProps) {
  const names = new Map(needs.products.map((each) => [each.id, each]));
  const product = need ? names.get(need.product) : undefined;
  return (
    <SideDrawer
      opened={need !== null}
      title={product?.name ?? ''}
      closeLabel="Close what is needed"
      width={560}
      onClose={onClose}
    >
      {need && (
        <div className={classes.column}>
          {product && (
            <p className={classes.dim}>
              Version {product.version}
              {product.ready ? ', ready for service' : ', not marked ready for service'}.{' '}
              <Link className={classes.link} to={`/formulas/${product.id}`}>
                Open the formula
              </Link>
            </p>
          )}
          <div className={classes.wide} data-sideways="">
            <table className={classes.table} aria-label="By day and place">
              <thead>
                <tr>
                  <th scope="col">Day</th>
                  {need.places.map((each) => (
                    <th key={each.place} scope="col">
                      {needs.places[each.place]}
                    </th>
                  ))}
                  <th scope="col">Together</th>
                </tr>
              </thead>
              <tbody>
                {needs.on.map((on, n) => (
                  <tr key={on} data-event={needs.events[n] || undefined}>
                    <th scope="row">
                      {day(on)}
                      {needs.events[n] && <span className={classes.small}>{needs.events[n]}</span>}
                    </th>
                    {need.places.map((each) => (
                      <td key={each.place}>{grams(each.days.mean[n] ?? 0)} g</td>
                    ))}
                    <td>
                      <span className={classes.strong}>{grams(need.days.mean[n] ?? 0)} g</span>
                      <span className={classes.small}>{fromTo(need.days.low[n] ?? 0, need.days.high[n] ?? 0)} g</span>
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
          <section aria-label="For what">
            <h3>For what</h3>
            <ul className={classes.list}>
              {need.drinks.map((each) => (
                <li key={each.id}>
                  <span>{needs.drinks[each.id] ?? 'A drink that is not served yet'}</span>
                  <span className={classes.figure}>
                    {kilograms(each.grams)} kg · {figure((100 * each.grams) / need.whole.mean[0]!)} %
                  </span>
                </li>
              ))}
            </ul>
            {need.within.length > 0 && (
              <p>
                {together(
                  need.within.map(
                    (each) => `${kilograms(each.grams)} kg go into ${names.get(each.id)?.name ?? 'another product'}`,
                  ),
                )}
                : make it first.
              </p>
            )}
          </section>
          <p className={classes.small}>
            Four days in five will lie between the smaller figures. They come from the drinks foreseen, each with the
            dose of its served version.
          </p>
        </div>
      )}
    </SideDrawer>
  );
}
