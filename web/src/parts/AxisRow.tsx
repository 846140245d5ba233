import type { Axis } from '../api/types';
import { figure, fromTo } from '../lib/format';
import classes from './AxisRow.module.css';

interface AxisRowProps {
  axis: Axis;
  /** What each side is called, in the order of its values. */
  names: string[];
}

const SHAPES = ['circle', 'square', 'diamond', 'triangle'] as const;
const WIDTH = 300;
const EDGE = 10;

/** One reading of several sides on one axis; each side has a shape of its own, named in words below. */
export function AxisRow({ axis, names }: AxisRowProps) {
  const x = (value: number) => EDGE + ((value - axis.low) / (axis.high - axis.low || 1)) * (WIDTH - 2 * EDGE);
  const said = axis.values
    .map(
      (value, side) =>
        `${names[side] ?? ''} ${value === null ? 'no value' : figure(value, axis.digits)}${bandText(axis, side)}`,
    )
    .join(', ');
  return (
    <figure className={classes.row}>
      <figcaption>
        {axis.title}
        {axis.unit && <span className={classes.unit}> {axis.unit}</span>}
      </figcaption>
      <svg viewBox={`0 0 ${WIDTH} 22`} role="img" aria-label={`${axis.title}: ${said}`}>
        <line x1={EDGE} x2={WIDTH - EDGE} y1={11} y2={11} className={classes.line} />
        {axis.bands.map(
          (band, side) =>
            band && (
              <line
                key={names[side]}
                x1={x(band.low)}
                x2={x(band.high)}
                y1={11}
                y2={11}
                className={classes.band}
                data-side={side}
              />
            ),
        )}
        {axis.values.map(
          (value, side) =>
            value !== null && <Mark key={names[side]} shape={SHAPES[side % SHAPES.length]!} x={x(value)} />,
        )}
      </svg>
      <span className={classes.values}>
        {axis.values.map((value, side) => (
          <span key={names[side]}>
            <Sign side={side} /> {value === null ? '—' : figure(value, axis.digits)}
            <span className={classes.unit}>{value !== null && bandText(axis, side)}</span>
          </span>
        ))}
      </span>
    </figure>
  );
}

/** From where to where a side may be, behind its value; a band narrower than a digit says nothing. */
function bandText(axis: Axis, side: number): string {
  const band = axis.bands[side];
  if (!band) return '';
  const ends = fromTo(band.low, band.high, axis.digits);
  return ends === figure(band.low, axis.digits) ? '' : ` (${ends})`;
}

/** Which shape is whose. */
export function AxisLegend({ names }: { names: string[] }) {
  return (
    <span className={classes.values}>
      {names.map((name, side) => (
        <span key={name}>
          <Sign side={side} /> {name}
        </span>
      ))}
    </span>
  );
}

function Sign({ side }: { side: number }) {
  return (
    <svg viewBox="0 0 14 14" width={11} height={11} aria-hidden="true">
      <Mark shape={SHAPES[side % SHAPES.length]!} x={7} y={7} />
    </svg>
  );
}

function Mark({ shape, x, y = 11 }: { shape: (typeof SHAPES)[number]; x: number; y?: number }) {
  if (shape === 'circle') return <circle cx={x} cy={y} r={5} className={classes.circle} />;
  if (shape === 'square') return <rect x={x - 4.5} y={y - 4.5} width={9} height={9} className={classes.square} />;
  const points =
    shape === 'diamond'
      ? `${x},${y - 6} ${x + 6},${y} ${x},${y + 6} ${x - 6},${y}`
      : `${x},${y - 6} ${x + 5.5},${y + 4.5} ${x - 5.5},${y + 4.5}`;
  return <polygon points={points} className={shape === 'diamond' ? classes.diamond : classes.triangle} />;
}
