import { VisuallyHidden } from '@mantine/core';
import { day, figure, fromTo } from '../lib/format';
import { niceTicks } from '../lib/niceTicks';
import classes from './BandChart.module.css';
import { useWidth } from './useWidth';

export interface BandDay {
  on: string;
  low: number;
  high: number;
  /** What came; nothing of a day to come. */
  came: number | null;
  /** What is expected. */
  mean: number;
  /** What goes on, or nothing. */
  event: string;
}

interface BandChartProps {
  days: BandDay[];
  /** What is counted: “drinks”. */
  unit: string;
}

const HEIGHT = 200;
const PAD = { left: 44, right: 12, top: 18, bottom: 26 };

/** Days that were, as dots in the band that had been foreseen for them, and days to come as a band of their own. */
export function BandChart({ days, unit }: BandChartProps) {
  const { ref, width } = useWidth(620);
  const most = Math.max(...days.map((each) => Math.max(each.high, each.came ?? 0)), 1);
  const step = (width - PAD.left - PAD.right) / Math.max(days.length, 1);
  const x = (n: number) => PAD.left + (n + 0.5) * step;
  const y = (value: number) => PAD.top + (1 - value / most) * (HEIGHT - PAD.top - PAD.bottom);
  const first = days.findIndex((each) => each.came === null);
  const begins = first === -1 ? days.length : first;
  const every = Math.max(1, Math.ceil(46 / Math.max(step, 1)));
  return (
    <figure ref={ref} className={classes.root}>
      <svg width={width} height={HEIGHT} aria-hidden="true">
        {[0, ...niceTicks(most, 4).filter((tick) => tick <= most)].map((tick) => (
          <g key={tick}>
            <line x1={PAD.left} x2={width - PAD.right} y1={y(tick)} y2={y(tick)} className={classes.grid} />
            <text x={PAD.left - 7} y={y(tick) + 4} textAnchor="end" className={classes.tick}>
              {figure(tick)}
            </text>
          </g>
        ))}
        {days.map((each, n) => (
          <rect
            key={each.on}
            x={x(n) - step * 0.42}
            width={Math.max(step * 0.84, 2)}
            y={y(each.high)}
            height={Math.max(y(each.low) - y(each.high), 2)}
            rx={2}
            className={each.came === null ? classes.ahead : classes.said}
          />
        ))}
        <polyline
          points={days
            .map((each, n) => [each, n] as const)
            .filter(([each]) => each.came === null)
            .map(([each, n]) => `${x(n)},${y(each.mean)}`)
            .join(' ')}
          className={classes.mean}
        />
        {days.map((each, n) =>
          each.came === null ? null : each.came < each.low || each.came > each.high ? (
            <circle key={each.on} cx={x(n)} cy={y(each.came)} r={3.5} className={classes.out} />
          ) : (
            <circle key={each.on} cx={x(n)} cy={y(each.came)} r={3} className={classes.sold} />
          ),
        )}
        {begins > 0 && begins < days.length && (
          <line
            x1={PAD.left + begins * step}
            x2={PAD.left + begins * step}
            y1={PAD.top - 6}
            y2={HEIGHT - PAD.bottom}
            className={classes.today}
          />
        )}
        {days.map((each, n) =>
          (n - begins) % every === 0 ? (
            <text key={each.on} x={x(n)} y={HEIGHT - 8} textAnchor="middle" className={classes.tick}>
              {day(each.on).split(' ').slice(0, 2).join(' ')}
            </text>
          ) : null,
        )}
        {days.map((each, n) =>
          each.event && days[n - 1]?.event !== each.event ? (
            <text key={each.on} x={x(n)} y={12} textAnchor="middle" className={classes.event}>
              {each.event}
            </text>
          ) : null,
        )}
      </svg>
      <VisuallyHidden>
        <figcaption>
          {days.map((each) =>
            each.came === null
              ? `${day(each.on)}${each.event && `, ${each.event}`}: ${figure(each.mean)} ${unit} expected, ${fromTo(each.low, each.high)}. `
              : `${day(each.on)}: ${figure(each.came)} sold, ${fromTo(each.low, each.high)} foreseen. `,
          )}
        </figcaption>
      </VisuallyHidden>
    </figure>
  );
}
