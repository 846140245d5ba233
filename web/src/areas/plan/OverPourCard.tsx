import { NativeSelect } from '@mantine/core';
import { useState } from 'react';
import type { OverPour } from '../../api/types';
import { day, fromTo, grams } from '../../lib/format';
import { useMoney } from '../../lib/useMoney';
import { Card } from '../../parts/Card';
import classes from './plan.module.css';

/** What bottles lost beside what was served, the newest whole week. */
export function OverPourCard({ rows }: { rows: OverPour[] }) {
  const money = useMoney();
  const weeks = [...new Set(rows.map((each) => each.first))];
  const [week, setWeek] = useState('');
  const shown = rows.filter((each) => each.first === (week || weeks[0]));
  const told = shown.filter((each) => each.verdict !== 'unknown');
  if (weeks.length === 0) return null;
  return (
    <Card title="Over-pour" aside={shown[0] && `week of ${day(shown[0].first)}`}>
      {told.length === 0 ? (
        <p>
          Nothing can be said of this week: open, weigh and empty bottles at the bars under Bottles, and what they lost
          is set beside the doses sold.
        </p>
      ) : (
        <ul className={classes.list} aria-label="Over-pour">
          {told.map((each) => (
            <li key={each.product}>
              <span>
                {each.name}
                <span className={classes.small}>{each.words}</span>
              </span>
              <span className={classes.figure}>
                <span className={each.verdict === 'over' ? classes.over : classes.strong}>
                  {each.over_g >= 0 ? '+' : ''}
                  {grams(each.over_g)} g{each.price !== null && each.verdict === 'over' ? `, ${money(each.price)}` : ''}
                </span>
                <span className={classes.small}>{fromTo(each.low_g, each.high_g)} g</span>
              </span>
            </li>
          ))}
        </ul>
      )}
      {told.length > 0 && told.length < shown.length && (
        <p className={classes.small}>
          Of {shown.length - told.length} others nothing can be said: not every bottle is weighed or emptied in time.
        </p>
      )}
      {weeks.length > 1 && (
        <NativeSelect
          label="Week"
          size="sm"
          value={week || weeks[0]}
          onChange={(event) => setWeek(event.currentTarget.value)}
          data={weeks.map((each) => ({ value: each, label: `from ${day(each)}` }))}
        />
      )}
    </Card>
  );
}
