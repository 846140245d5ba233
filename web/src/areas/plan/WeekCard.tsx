import type { PlanWeek, PlannedCook } from '../../api/types';
import { day, figure } from '../../lib/format';
import { Card } from '../../parts/Card';
import classes from './WeekCard.module.css';
import { kilograms } from './words';

interface WeekCardProps {
  week: PlanWeek;
  open: { product: string; day: number } | null;
  onOpen: (cook: { product: string; day: number }) => void;
}

/** Levels in the fridge over the days, a square where it is cooked: how many. */
export function WeekCard({ week, open, onOpen }: WeekCardProps) {
  const { plan } = week;
  const products = plan.products.filter((each) => each.morning_g.some((grams) => grams > 0) || each.runs_out > 0);
  return (
    <Card title="Levels in the fridge" aside="on average over simulated weeks; squares are cooks, press one for why">
      <div role="table" aria-label="Levels in the fridge" className={classes.grid}>
        <div role="row" className={classes.row}>
          <span role="columnheader" className={classes.head}>
            Product
          </span>
          <div role="columnheader" className={`${classes.head} ${classes.days}`} aria-label="Days">
            {plan.on.map((on, n) => (
              <span key={on} className={classes.day} data-event={week.events[n] || undefined} title={week.events[n]}>
                {n === 0 ? 'Today' : day(on).split(' ').slice(0, 2).join(' ')}
              </span>
            ))}
          </div>
          <span role="columnheader" className={classes.head} style={{ textAlign: 'right' }}>
            Runs out
          </span>
        </div>
        {products.map((each) => (
          <div role="row" key={each.product} className={classes.row}>
            <div role="rowheader" className={classes.name}>
              <b>{each.title}</b>
              <span className={classes.small}>
                keeps {each.life_days} {each.life_days === 1 ? 'day' : 'days'}
              </span>
            </div>
            <div role="cell" className={classes.levels}>
              <Levels morning={each.morning_g} evening={each.evening_g} />
              <div className={classes.squares}>
                {plan.on.map((on, n) => {
                  const cook = plan.cooks.find((other) => other.product === each.product && other.day === n);
                  return cook && cook.cooks > 0 ? (
                    <Square
                      key={on}
                      cook={cook}
                      title={each.title}
                      on={on}
                      open={open?.product === each.product && open.day === n}
                      onOpen={onOpen}
                    />
                  ) : (
                    <span key={on} />
                  );
                })}
              </div>
            </div>
            <div role="cell" className={classes.out} data-much={each.runs_out > 0.25 || undefined}>
              <b>{figure(100 * each.runs_out)} %</b>
              {each.waste_g > 20 && <span className={classes.small}>{kilograms(each.waste_g)} kg thrown</span>}
            </div>
          </div>
        ))}
      </div>
    </Card>
  );
}

interface SquareProps {
  cook: PlannedCook;
  title: string;
  on: string;
  open: boolean;
  onOpen: (cook: { product: string; day: number }) => void;
}

function Square({ cook, title, on, open, onOpen }: SquareProps) {
  return (
    <button
      type="button"
      className={classes.square}
      data-open={open || undefined}
      data-pinned={cook.pinned || undefined}
      aria-label={`${cook.cooks} ${cook.cooks === 1 ? 'cook' : 'cooks'} of ${title} on ${day(on)}, ${kilograms(cook.grams)} kg${cook.pinned ? ', pinned' : ''}`}
      onClick={() => onOpen({ product: cook.product, day: cook.day })}
    >
      {cook.cooks}
    </button>
  );
}

/** What stands from morning to evening, day after day. */
function Levels({ morning, evening }: { morning: number[]; evening: number[] }) {
  const most = Math.max(...morning, 1);
  const width = 100 / morning.length;
  const y = (grams: number) => 96 - 92 * (grams / most);
  const points = morning.flatMap((grams, n) => [
    [n * width, y(grams)] as const,
    [(n + 1) * width, y(evening[n] ?? 0)] as const,
  ]);
  return (
    <svg viewBox="0 0 100 100" preserveAspectRatio="none" aria-hidden="true">
      <polygon
        className={classes.area}
        points={['0,96', ...points.map(([x, at]) => `${x},${at}`), '100,96'].join(' ')}
      />
      {morning.map((_, n) => (
        <line
          key={n}
          x1={n * width}
          x2={n * width}
          y1={0}
          y2={100}
          className={classes.edge}
          vectorEffect="non-scaling-stroke"
        />
      ))}
    </svg>
  );
}
