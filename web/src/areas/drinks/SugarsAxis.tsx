import type { DrinkSizes } from '../../api/types';
import { figure } from '../../lib/format';
import { niceTicks } from '../../lib/niceTicks';
import { Card } from '../../parts/Card';
import { useWidth } from '../../parts/useWidth';
import classes from './SugarsAxis.module.css';

const HEIGHT = 82;
const EDGE = 24;

/** Sugars in 100 ml of every size on one axis, with the shop's window. */
export function SugarsAxis({ report }: { report: DrinkSizes }) {
  const { ref, width } = useWidth(600);
  const reading = report.readings.find((each) => each.id === report.evenness.reading);
  const points = report.sizes.flatMap((size, index) => {
    const value = reading?.sizes[index]?.likely;
    return value == null ? [] : [{ name: size.name, value }];
  });
  if (!reading || points.length < 2) return null;
  const { low, high, words } = report.evenness;
  const values = [...points.map((point) => point.value), ...(low == null || high == null ? [] : [low, high])];
  const pad = Math.max((Math.max(...values) - Math.min(...values)) * 0.6, 0.6);
  const [from, to] = [Math.max(Math.min(...values) - pad, 0), Math.max(...values) + pad];
  const x = (value: number) => EDGE + ((value - from) / (to - from)) * (width - 2 * EDGE);
  const named = placed(points, x);
  return (
    <Card title={reading.title} aside={words}>
      <div ref={ref} className={classes.axis}>
        <svg
          viewBox={`0 0 ${width} ${HEIGHT}`}
          width={width}
          height={HEIGHT}
          role="img"
          aria-label={`${reading.title}: ${points.map((point) => `${point.name} ${figure(point.value, 1)} g`).join(', ')}. ${words}`}
        >
          {low != null && high != null && (
            <rect className={classes.window} x={x(low)} width={x(high) - x(low)} y={27} height={18} rx={9} />
          )}
          <line className={classes.line} x1={EDGE} x2={width - EDGE} y1={36} y2={36} />
          {between(from, to).map((tick) => (
            <g key={tick}>
              <line className={classes.line} x1={x(tick)} x2={x(tick)} y1={31} y2={41} />
              <text className={classes.tick} x={x(tick)} y={HEIGHT - 4} textAnchor="middle">
                {figure(tick, Number.isInteger(tick) ? 0 : 1)}
              </text>
            </g>
          ))}
          {points.map((point) => (
            <circle key={point.name} className={classes.point} cx={x(point.value)} cy={36} r={7} />
          ))}
          {named.map(({ name, at, above }) => (
            <text key={name} className={classes.name} x={at} y={above ? 19 : 58} textAnchor="middle">
              {name}
            </text>
          ))}
        </svg>
      </div>
    </Card>
  );
}

/** Round ticks from one end of the axis to the other. */
function between(from: number, to: number): number[] {
  const [first, second] = niceTicks(to - from, 6);
  const step = (second ?? 2 * (first ?? 1)) - (first ?? 1);
  const begin = Math.ceil(from / step);
  return Array.from({ length: Math.floor(to / step) - begin + 1 }, (_, n) =>
    Number(((begin + n) * step).toPrecision(12)),
  );
}

/** Names above and below in turn; those that would lie on one another stand together. */
function placed(points: { name: string; value: number }[], x: (value: number) => number) {
  const sorted = [...points].sort((a, b) => a.value - b.value);
  const found: { name: string; at: number; above: boolean }[] = [];
  for (const point of sorted) {
    const at = x(point.value);
    const above = found.length % 2 === 0;
    const near = found.filter((each) => each.above === above).pop();
    if (near && at - near.at < 60) {
      near.at = (near.at + at) / 2;
      near.name = `${near.name} · ${point.name}`;
    } else found.push({ name: point.name, at, above });
  }
  return found;
}
