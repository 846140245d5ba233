import { useQuery } from '@tanstack/react-query';
import { correctionsQuery } from '../../api/queries';
import { day } from '../../lib/format';
import { Card } from '../../parts/Card';
import classes from './plan.module.css';

/** Counts that were corrected by hand lately, and why. */
export function CorrectionsCard() {
  const rows = useQuery(correctionsQuery).data ?? [];
  if (rows.length === 0) return null;
  return (
    <Card title="Corrected by hand">
      <ul className={classes.list} aria-label="Corrected by hand">
        {rows.slice(0, 8).map((each) => (
          <li key={`${each.at} ${each.drink} ${each.size}`}>
            <span>
              {each.drink} {each.size}, {day(each.on)}, {each.place}
              <span className={classes.small}>
                {each.reason} · {each.by}
              </span>
            </span>
            <span className={classes.figure}>
              {each.before ?? 'none'} → {each.after ?? 'none'}
              {each.sold_out && <span className={classes.small}>sold out</span>}
            </span>
          </li>
        ))}
      </ul>
    </Card>
  );
}
