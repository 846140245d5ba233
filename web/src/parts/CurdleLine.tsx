import { fromTo } from '../lib/format';
import classes from './CurdleLine.module.css';

interface CurdleLineProps {
  /** How much of what it takes to curdle the milk: least and most. */
  low: number;
  high: number;
}

const WIDTH = 420;
const EDGE = 12;
const MOST = 2;

/** Acid against what its milk stands, on one line: a stretch, since nobody knows better, and the mark where milk turns. */
export function CurdleLine({ low, high }: CurdleLineProps) {
  const x = (times: number) => EDGE + (Math.min(times, MOST) / MOST) * (WIDTH - 2 * EDGE);
  const beyond = high > MOST;
  return (
    <svg
      viewBox={`0 0 ${WIDTH} 58`}
      className={classes.root}
      role="img"
      aria-label={`The acid in it is ${fromTo(low, high, 1)} times what curdles its milk; it turns at 1.`}
    >
      <line x1={EDGE} x2={WIDTH - EDGE} y1={28} y2={28} className={classes.line} />
      <rect x={x(low)} width={Math.max(4, x(high) - x(low))} y={20} height={16} rx={8} className={classes.stretch} />
      {beyond && <path d={`M${WIDTH - EDGE - 6} 22 l8 6 l-8 6`} className={classes.beyond} />}
      <line x1={x(1)} x2={x(1)} y1={10} y2={42} className={classes.turns} />
      <text x={x(1)} y={54} textAnchor="middle" className={classes.words}>
        milk turns
      </text>
      <text x={EDGE} y={54} className={classes.words}>
        no acid
      </text>
      <text x={WIDTH - EDGE} y={54} textAnchor="end" className={classes.words}>
        twice that
      </text>
    </svg>
  );
}
