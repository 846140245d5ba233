import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { priceChangesQuery } from '../../api/queries';
import type { PriceChanges } from '../../api/types';
import { figure } from '../../lib/format';
import { useMoney } from '../../lib/useMoney';
import { Card } from '../../parts/Card';
import { Notice } from '../../parts/Notice';
import classes from './Costs.module.css';

/** What prices have changed since versions were kept, and the drinks they push below the margin. */
export function ChangedPrices() {
  const found = useQuery(priceChangesQuery);
  const nothing = found.data && found.data.drinks.length === 0 && found.data.formulas.length === 0;
  return (
    <Card title="Since your versions were kept" aside="prices of then and of today">
      {found.isPending && <p className={classes.quiet}>Working it out …</p>}
      {found.isError && <Notice tone="stop" text={found.error.message} />}
      {nothing && (
        <p className={classes.quiet}>
          No price has changed since your versions were kept, and every drink that is served leaves what the shop asks
          for. Type new prices under <Link to="/pantry/prices">Prices</Link>.
        </p>
      )}
      {found.data && found.data.drinks.length > 0 && <Drinks drinks={found.data.drinks} />}
      {found.data && found.data.formulas.length > 0 && <Formulas formulas={found.data.formulas} />}
    </Card>
  );
}

function Drinks({ drinks }: { drinks: PriceChanges['drinks'] }) {
  const money = useMoney();
  const amount = (value: number | null) => (value === null ? '—' : money(value));
  const percent = (value: number | null) => (value === null ? '—' : `${figure(value)} %`);
  return (
    <div className={classes.wide} data-sideways="">
      <table className={classes.table}>
        <thead>
          <tr>
            <th scope="col">Drink that is served</th>
            <th scope="col">Size</th>
            <th scope="col">Cost, then → now</th>
            <th scope="col">Margin, then → now</th>
          </tr>
        </thead>
        <tbody>
          {drinks.flatMap((drink) =>
            drink.sizes.map((size, at) => (
              <tr key={`${drink.drink} ${size.name}`} data-first={at === 0 || undefined}>
                {at === 0 && (
                  <th scope="rowgroup" rowSpan={drink.sizes.length}>
                    <Link to={`/drinks/${drink.drink}`}>{drink.name}</Link>
                    <span className={classes.small}>version {drink.version}</span>
                    {drink.changes.slice(0, 3).map((change) => (
                      <span key={change.substance} className={classes.small}>
                        {change.title}: {change.then === null ? 'no price' : money(change.then)} →{' '}
                        {change.now === null ? 'no price' : money(change.now)} per kg
                      </span>
                    ))}
                    {drink.changes.length > 3 && (
                      <span className={classes.small}>and {drink.changes.length - 3} more</span>
                    )}
                    {drink.missing.length > 0 && (
                      <span className={classes.small}>no price: {drink.missing.join(', ')}</span>
                    )}
                  </th>
                )}
                <td>{size.name}</td>
                <td>
                  <ThenNow then={amount(size.cost_then)} now={amount(size.cost_now)} />
                </td>
                <td>
                  <ThenNow then={percent(size.margin_then)} now={percent(size.margin_now)} />
                  {size.below && (
                    <strong className={classes.below}>
                      {size.pushed_below ? 'now below' : 'below'} {figure(drink.least_margin ?? 0)} %
                    </strong>
                  )}
                </td>
              </tr>
            )),
          )}
        </tbody>
      </table>
    </div>
  );
}

/** “€0.90 → €1.05”; what stayed stands once. */
function ThenNow({ then, now }: { then: string; now: string }) {
  return <>{then === now ? now : `${then} → ${now}`}</>;
}

function Formulas({ formulas }: { formulas: PriceChanges['formulas'] }) {
  const money = useMoney();
  return (
    <div className={classes.wide} data-sideways="">
      <table className={classes.table}>
        <thead>
          <tr>
            <th scope="col">Formula</th>
            <th scope="col">Ingredients then → now</th>
            <th scope="col">Most of it</th>
          </tr>
        </thead>
        <tbody>
          {formulas.map((formula) => (
            <tr key={formula.formula} data-first="">
              <th scope="row">
                <Link to={`/formulas/${formula.formula}`}>{formula.name}</Link>
                <span className={classes.small}>version {formula.version}</span>
              </th>
              <td>
                {money(formula.then)} → {money(formula.now)} per {formula.unit === 'l' ? 'litre' : 'kilogram'}
                {formula.then > 0 && (
                  <span className={classes.small}>
                    {formula.now >= formula.then ? '+' : '−'}
                    {figure(Math.abs(100 * (formula.now / formula.then - 1)), 1)} %
                  </span>
                )}
              </td>
              <td>
                {formula.changes.slice(0, 2).map((change) => (
                  <span key={change.substance} className={classes.small}>
                    {change.title}: {change.adds >= 0 ? '+' : '−'}
                    {money(Math.abs(change.adds))}
                  </span>
                ))}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
