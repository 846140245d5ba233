import { VisuallyHidden } from '@mantine/core';
import { clock, figure, fromTo } from '../lib/format';
import { niceTicks } from '../lib/niceTicks';
import { useLandscape } from '../lib/useLandscape';
import classes from './PotTrace.module.css';
import { useWidth } from './useWidth';

interface PotTraceProps {
  /** What the pot weighed, pot included, in the order of time. */
  weighings: { at: string; reads_g: number }[];
  /** Where it is expected: between two weights. */
  course: { at: string; low_g: number; high_g: number }[];
  stop_g: number;
  starts_g: number;
  began_at: string | null;
  now: number;
}

const HEIGHT = 184;
const LOW_HEIGHT = 160;
const PAD = { left: 80, right: 14, top: 16, bottom: 30 };

/** The pot's weight against time, with the line at which to stop. */
export function PotTrace({ weighings, course, stop_g, starts_g, began_at, now }: PotTraceProps) {
  const { ref, width } = useWidth(760);
  const height = useLandscape() ? LOW_HEIGHT : HEIGHT;
  const begin = Date.parse(began_at ?? weighings[0]?.at ?? course[0]?.at ?? new Date(now).toISOString());
  const ends = [
    ...course.map((point) => Date.parse(point.at)),
    ...weighings.map((each) => Date.parse(each.at)),
    Math.min(now, begin + 6 * 3_600_000),
  ];
  const minutes = Math.max(5, (Math.max(...ends) - begin) / 60_000) * 1.06;
  const weights = [starts_g, stop_g, ...weighings.map((each) => each.reads_g)];
  const room = Math.max(20, (Math.max(...weights) - Math.min(...weights)) * 0.12);
  const [low, high] = [Math.min(...weights) - room, Math.max(...weights) + room];
  const x = (at: number) => PAD.left + ((at - begin) / 60_000 / minutes) * (width - PAD.left - PAD.right);
  const y = (grams: number) => PAD.top + ((high - grams) / (high - low)) * (height - PAD.top - PAD.bottom);
  const step = niceTicks(high - low, 4)[0] ?? 100;
  const marks = Array.from({ length: 12 }, (_, i) => (Math.ceil(low / step) + i) * step).filter(
    (grams) => grams <= high,
  );
  const every = niceTicks(minutes, 5)[0] ?? 5;
  const times = Array.from({ length: 12 }, (_, i) => i * every).filter((minute) => minute <= minutes);
  const line = weighings.map((each) => `${x(Date.parse(each.at))},${y(each.reads_g)}`);
  const from = began_at && weighings.length > 0 ? [`${x(begin)},${y(starts_g)}`] : [];
  const band = [
    ...course.map((p) => `${x(Date.parse(p.at))},${y(p.low_g)}`),
    ...[...course].reverse().map((p) => `${x(Date.parse(p.at))},${y(p.high_g)}`),
  ];
  const last = weighings[weighings.length - 1];
  const lastCourse = course[course.length - 1];
  return (
    <figure ref={ref} className={classes.root}>
      <svg width={width} height={height} aria-hidden="true">
        {marks.map((grams) => (
          <g key={grams}>
            <line x1={PAD.left} x2={width - PAD.right} y1={y(grams)} y2={y(grams)} className={classes.grid} />
            <text x={PAD.left - 8} y={y(grams) + 4} textAnchor="end" className={classes.tick}>
              {figure(grams)}
            </text>
          </g>
        ))}
        {times.map((minute) => (
          <text key={minute} x={x(begin + minute * 60_000)} y={height - 8} textAnchor="middle" className={classes.tick}>
            {figure(minute, every % 1 ? 1 : 0)} min
          </text>
        ))}
        {band.length > 2 && <polygon points={band.join(' ')} className={classes.band} />}
        <line x1={PAD.left} x2={width - PAD.right} y1={y(stop_g)} y2={y(stop_g)} className={classes.stop} />
        <text x={width - PAD.right} y={y(stop_g) - 6} textAnchor="end" className={classes.stopText}>
          stop at {figure(stop_g)} g
        </text>
        {line.length > 0 && <polyline points={[...from, ...line].join(' ')} className={classes.line} />}
        {last && <circle cx={x(Date.parse(last.at))} cy={y(last.reads_g)} r={7} className={classes.dot} />}
        {began_at && <line x1={x(now)} x2={x(now)} y1={PAD.top} y2={height - PAD.bottom} className={classes.now} />}
      </svg>
      <VisuallyHidden>
        <figcaption>
          The pot begins at {figure(starts_g)} g and is to stop at {figure(stop_g)} g.{' '}
          {weighings.length === 0
            ? 'It has not been weighed yet.'
            : `It weighed ${weighings.map((each) => `${figure(each.reads_g)} g at ${clock(each.at)}`).join(', ')}.`}
          {lastCourse &&
            ` At ${clock(lastCourse.at)} it is expected at ${fromTo(lastCourse.low_g, lastCourse.high_g)} g.`}
        </figcaption>
      </VisuallyHidden>
    </figure>
  );
}
