import { VisuallyHidden } from '@mantine/core';
import type { SweetLineReport } from '../api/types';
import { figure } from '../lib/format';
import { placeInLanes } from '../lib/lanes';
import classes from './SweetLine.module.css';
import { useWidth } from './useWidth';

interface SweetLineProps {
  line: SweetLineReport;
  /** °Brix where the product ends; null where it is dry. */
  ends: number | null;
}

const TOP = 85;
const PAD = 14;
const LANE = 17;

interface Mark {
  title: string;
  brix: number;
}

/** One scale of °Brix with the landmarks that decide things and the path: thin while mixing, thick while cooking. */
export function SweetLine({ line, ends }: SweetLineProps) {
  const { ref, width } = useWidth(1100);
  const x = (brix: number) => PAD + (brix / TOP) * (width - 2 * PAD);
  const starts = line.starts_brix;
  const marks = mergeMarks(line.landmarks);
  const labels = placeInLanes(
    marks,
    (mark) => x(mark.brix),
    (mark) => mark.title.length * 6.1 + 4,
    width,
    12,
  );
  const lanes = Math.max(1, ...labels.map((label) => label.lane + 1));
  const axis = lanes * LANE + 30;
  const height = axis + 26;
  const labelY = (lane: number) => (lanes - lane) * LANE - 5;
  const low = Math.min(...line.path_brix, ends ?? TOP);
  const high = Math.max(...line.path_brix, ends ?? 0);
  const shown = ends !== null && ends <= TOP;
  return (
    <div ref={ref} className={classes.root}>
      <svg width={width} height={height} aria-hidden="true" className={classes.svg}>
        {labels.map(({ item, lane }) => (
          <line
            key={item.title}
            x1={x(item.brix)}
            x2={x(item.brix)}
            y1={labelY(lane) + 4}
            y2={axis}
            className={classes.mark}
          />
        ))}
        {labels.map(({ item, left, lane }) => (
          <text key={item.title} x={left} y={labelY(lane)} className={classes.label}>
            {item.title}
          </text>
        ))}
        <line x1={x(0)} x2={x(TOP)} y1={axis} y2={axis} className={classes.axis} />
        {Array.from({ length: 18 }, (_, i) => i * 5).map((brix) => (
          <g key={brix}>
            <line x1={x(brix)} x2={x(brix)} y1={axis} y2={axis + (brix % 10 ? 5 : 8)} className={classes.axis} />
            {brix % 10 === 0 && (
              <text x={x(brix)} y={axis + 21} textAnchor="middle" className={classes.number}>
                {brix}
              </text>
            )}
          </g>
        ))}
        {shown && starts !== null && (
          <g>
            <line x1={x(low)} x2={x(high)} y1={axis} y2={axis} className={classes.mixing} />
            <line x1={x(starts)} x2={x(ends)} y1={axis} y2={axis} className={classes.path} />
            <circle cx={x(starts)} cy={axis} r="6" className={classes.start} />
            <path d={`M${x(ends) - 8} ${axis - 9} h16 l-8 13 z`} className={classes.end} />
            <EndLabels starts={starts} ends={ends} x={x} y={axis - 14} width={width} />
          </g>
        )}
      </svg>
      <VisuallyHidden>
        <p>{sweetLineText(line, ends)}</p>
      </VisuallyHidden>
    </div>
  );
}

interface EndLabelsProps {
  starts: number;
  ends: number;
  x: (brix: number) => number;
  y: number;
  width: number;
}

function EndLabels({ starts, ends, x, y, width }: EndLabelsProps) {
  const still = Math.abs(ends - starts) < 0.05;
  const rising = ends > starts;
  // The end is named above the path where that is long enough, else on its far side.
  const left = x(ends) > 130 && (still || !rising || x(ends) - x(starts) > 112 || x(ends) + 120 > width);
  return (
    <>
      {!still && Math.abs(x(ends) - x(starts)) > 40 && (
        <text x={x(starts) + (rising ? -10 : 10)} y={y} textAnchor={rising ? 'end' : 'start'} className={classes.ends}>
          starts {figure(starts, 1)}
        </text>
      )}
      <text x={x(ends) + (left ? -14 : 14)} y={y} textAnchor={left ? 'end' : 'start'} className={classes.ends}>
        {still ? 'stands at' : 'ends'} {figure(ends, 1)} °Bx
      </text>
    </>
  );
}

/** Landmarks closer than a third of a degree share one label. */
function mergeMarks(landmarks: Mark[]): Mark[] {
  const merged: Mark[] = [];
  for (const mark of landmarks) {
    const last = merged[merged.length - 1];
    if (last && mark.brix - last.brix < 0.34) last.title = `${last.title}, ${mark.title}`;
    else merged.push({ title: mark.title, brix: mark.brix });
  }
  return merged;
}

/** The sweet line in words. */
export function sweetLineText(line: SweetLineReport, ends: number | null): string {
  const marks = line.landmarks.map((mark) => `${mark.title} ${figure(mark.brix, 1)}`).join(', ');
  if (ends === null) return `It is dry, so it has no °Brix. Landmarks: ${marks}.`;
  const starts = line.starts_brix;
  const path =
    starts !== null && Math.abs(starts - ends) >= 0.05 ? `Starts at ${figure(starts, 1)} and ends at` : 'Stands at';
  return `${path} ${figure(ends, 1)} °Brix. Landmarks: ${marks}.`;
}
