import { VisuallyHidden } from '@mantine/core';
import { figure, fromTo } from '../lib/format';
import { niceTicks } from '../lib/niceTicks';
import classes from './CourseChart.module.css';
import { useWidth } from './useWidth';

export interface Course {
  id: string;
  title: string;
  points: { minutes: number; low_c: number; likely_c: number; high_c: number }[];
  /** Drawn strongest. */
  chosen: boolean;
}

interface CourseChartProps {
  courses: Course[];
  /** A stretch of temperature to stay in. */
  window?: { low: number; high: number; words: string } | undefined;
}

const HEIGHT = 230;
const PAD = { left: 46, right: 120, top: 12, bottom: 28 };
const DASHES = ['', '7 4', '2 4', '10 3 2 3', '1 3'];

/** Temperatures over time, one line a place it is kept in, each with its range. */
export function CourseChart({ courses, window: stretch }: CourseChartProps) {
  const { ref, width } = useWidth(560);
  const points = courses.flatMap((course) => course.points);
  const minutes = Math.max(...points.map((point) => point.minutes), 1);
  const most = Math.max(...points.map((point) => point.high_c), stretch?.high ?? 0) + 3;
  const least = Math.min(...points.map((point) => point.low_c), stretch?.low ?? Infinity) - 3;
  const x = (minute: number) => PAD.left + (minute / minutes) * (width - PAD.left - PAD.right);
  const y = (t: number) => PAD.top + ((most - t) / (most - least)) * (HEIGHT - PAD.top - PAD.bottom);
  const step = niceTicks(most - least, 5)[0] ?? 10;
  const marks = Array.from({ length: 14 }, (_, i) => (Math.ceil(least / step) + i) * step).filter((t) => t <= most);
  const hours = minutes > 240;
  const every = niceTicks(hours ? minutes / 60 : minutes, 5)[0] ?? 5;
  const times = Array.from({ length: 8 }, (_, i) => i * every * (hours ? 60 : 1)).filter((minute) => minute <= minutes);
  const ends = apart(courses.map((course) => y(course.points[course.points.length - 1]?.likely_c ?? 0)));
  return (
    <figure ref={ref} className={classes.root}>
      <svg width={width} height={HEIGHT} aria-hidden="true">
        {stretch && (
          <rect
            x={PAD.left}
            width={width - PAD.left - PAD.right}
            y={y(stretch.high)}
            height={Math.max(1, y(stretch.low) - y(stretch.high))}
            className={classes.window}
          />
        )}
        {marks.map((t) => (
          <g key={t}>
            <line x1={PAD.left} x2={width - PAD.right} y1={y(t)} y2={y(t)} className={classes.grid} />
            <text x={PAD.left - 8} y={y(t) + 4} textAnchor="end" className={classes.tick}>
              {figure(t)} °
            </text>
          </g>
        ))}
        {times.map((minute) => (
          <text key={minute} x={x(minute)} y={HEIGHT - 8} textAnchor="middle" className={classes.tick}>
            {hours ? `${figure(minute / 60)} h` : `${figure(minute)} min`}
          </text>
        ))}
        {stretch && (
          <text x={PAD.left + 6} y={y(stretch.high) + 14} className={classes.tick}>
            {stretch.words}
          </text>
        )}
        {courses.map((course, n) => (
          <g key={course.id} data-chosen={course.chosen || undefined} className={classes.course}>
            <polygon
              points={[
                ...course.points.map((p) => `${x(p.minutes)},${y(p.low_c)}`),
                ...[...course.points].reverse().map((p) => `${x(p.minutes)},${y(p.high_c)}`),
              ].join(' ')}
              className={classes.band}
            />
            <polyline
              points={course.points.map((p) => `${x(p.minutes)},${y(p.likely_c)}`).join(' ')}
              strokeDasharray={DASHES[n % DASHES.length]}
              className={classes.line}
            />
            <text x={width - PAD.right + 6} y={ends[n]! + 4} className={classes.title}>
              {course.title}
            </text>
          </g>
        ))}
      </svg>
      <VisuallyHidden>
        <figcaption>
          {courses.map((course) => {
            const [first, last] = [course.points[0], course.points[course.points.length - 1]];
            if (!first || !last) return '';
            const [begins, ends] = [figure(first.likely_c), figure(last.likely_c)];
            const band = fromTo(last.low_c, last.high_c);
            const whole = begins === ends ? `${ends} °C throughout` : `from ${begins} °C to ${ends} °C`;
            return `${course.title}: ${whole}${band === ends ? '' : `, ${band}`}. `;
          })}
        </figcaption>
      </VisuallyHidden>
    </figure>
  );
}

/** Heights moved apart so that the words beside them do not lie on one another. */
function apart(heights: number[]): number[] {
  const order = heights.map((_, n) => n).sort((a, b) => heights[a]! - heights[b]!);
  const placed = [...heights];
  let last = -Infinity;
  for (const n of order) {
    placed[n] = Math.max(heights[n]!, last + 15);
    last = placed[n];
  }
  return placed;
}
