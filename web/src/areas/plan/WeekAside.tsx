import { Button } from '@mantine/core';
import { Link } from 'react-router';
import type { PlanPin, PlanWeek } from '../../api/types';
import { day, figure } from '../../lib/format';
import { useMoney } from '../../lib/useMoney';
import { Card } from '../../parts/Card';
import classes from './plan.module.css';
import { kilograms } from './words';

interface WhyCardProps {
  week: PlanWeek;
  open: { product: string; day: number };
  pins: PlanPin[];
  onPins: (pins: PlanPin[]) => void;
}

/** Why a cook is there, and what somebody decides of it: the rest follows. */
export function WhyCard({ week, open, pins, onPins }: WhyCardProps) {
  const { plan } = week;
  const cook = plan.cooks.find((each) => each.product === open.product && each.day === open.day);
  const product = plan.products.find((each) => each.product === open.product);
  if (!cook || !product) return null;
  const others = pins.filter((pin) => pin.product !== open.product || pin.day !== open.day);
  const move = (to: number) =>
    onPins([
      ...others.filter((pin) => pin.product !== open.product || pin.day !== to),
      { product: open.product, day: open.day, cooks: 0, kind: 'exactly' },
      { product: open.product, day: to, cooks: cook.cooks, kind: 'exactly' },
    ]);
  return (
    <Card title={`${product.title}, ${day(plan.on[open.day]!)}`} aside={cook.pinned ? 'pinned' : ''}>
      <p>
        <strong>
          {cook.cooks} {cook.cooks === 1 ? 'cook' : 'cooks'}, {kilograms(cook.grams)} kg
        </strong>
        , so that {kilograms(cook.up_to_g)} kg are on hand. {figure(cook.cooks * product.hands_min)} min of hands.
      </p>
      <p>{cook.why}</p>
      <div className={classes.buttons}>
        <Button size="sm" variant="default" disabled={open.day === 0} onClick={() => move(open.day - 1)}>
          A day earlier
        </Button>
        <Button size="sm" variant="default" disabled={open.day === 6} onClick={() => move(open.day + 1)}>
          A day later
        </Button>
        <Button
          size="sm"
          variant="default"
          onClick={() => onPins([...others, { product: open.product, day: open.day, cooks: 0, kind: 'exactly' }])}
        >
          Not on this day
        </Button>
        {!cook.pinned && (
          <Button
            size="sm"
            variant="default"
            onClick={() =>
              onPins([...others, { product: open.product, day: open.day, cooks: cook.cooks, kind: 'exactly' }])
            }
          >
            Pin it
          </Button>
        )}
        <Button size="sm" variant="default" component={Link} to={`/formulas/${open.product}`}>
          Open the formula
        </Button>
      </div>
    </Card>
  );
}

/** What the plan costs, how near to the best it is, and what simulated weeks made of it. */
export function ThisPlanCard({ week }: { week: PlanWeek }) {
  const money = useMoney();
  const { plan } = week;
  const hands = plan.hands_min.reduce((total, each) => total + each, 0);
  return (
    <Card title="This plan">
      <p>
        {money(plan.money.ingredients, 0)} of ingredients and bottles, {figure(hands / 60, 1)} h of hands,{' '}
        {money(plan.money.cooks, 0)} for hands and energy.
      </p>
      <p>
        <strong>
          {plan.gap < 0.0005
            ? 'No plan is cheaper.'
            : `Within ${figure(100 * plan.gap, 1)} % of the best there can be.`}
        </strong>
      </p>
      <p className={classes.small}>Over 1,000 simulated weeks:</p>
      <table className={classes.table} aria-label="Over 1,000 simulated weeks">
        <thead>
          <tr>
            <th scope="col">Way</th>
            <th scope="col">A week</th>
            <th scope="col">Runs out</th>
            <th scope="col">Thrown</th>
          </tr>
        </thead>
        <tbody>
          {(
            [
              ['This plan', plan.lived],
              ['To par daily', plan.to_par],
              ['Fixed days', plan.fixed],
            ] as const
          ).map(([title, lived]) => (
            <tr key={title}>
              <th scope="row">{title}</th>
              <td>{money(lived.money, 0)}</td>
              <td>{figure(100 * lived.runs_out)} %</td>
              <td>{figure(lived.waste_kg, 1)} kg</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className={classes.small}>
        A week counts ingredients, hands, energy, and what drinks that are out would have brought; what is left and good
        is taken off. Runs out: how likely one product is to, on any day.
      </p>
      {week.unpriced.length > 0 && (
        <p className={classes.small}>
          Ingredients without a price are in {week.unpriced.join(', ')}:{' '}
          <Link className={classes.link} to="/pantry/prices">
            Prices
          </Link>
        </p>
      )}
      {Object.keys(week.asks).length > 0 && (
        <p className={classes.small}>
          Of {Object.keys(week.asks).length} products not everything about keeping is answered: they are planned as held
          by time and temperature. Your local food code and a qualified person decide.
        </p>
      )}
    </Card>
  );
}
