import { figure } from '../../lib/format';
import classes from './Calculators.module.css';

interface MixSquareProps {
  a: number;
  b: number;
  wanted: number;
  parts_a: number;
  parts_b: number;
  first: string;
  second: string;
}

/** Two fats on the left, the one wanted in the middle, the parts of each across from the other. */
export function MixSquare({ a, b, wanted, parts_a, parts_b, first, second }: MixSquareProps) {
  const text = `${figure(parts_a, 1)} parts of the first to ${figure(parts_b, 1)} of the second`;
  return (
    <svg
      className={classes.square}
      viewBox="-24 0 348 150"
      role="img"
      aria-label={`Mixing square: ${figure(a, 1)} % and ${figure(b, 1)} % make ${figure(wanted, 1)} %: ${text}.`}
    >
      <rect x="60" y="20" width="180" height="110" />
      <line x1="60" y1="20" x2="240" y2="130" />
      <line x1="60" y1="130" x2="240" y2="20" />
      <circle cx="150" cy="75" r="24" />
      <text x="150" y="80" textAnchor="middle" className={classes.middle}>
        {figure(wanted, 1)}
      </text>
      <text x="52" y="25" textAnchor="end">
        {figure(a, 1)} %
      </text>
      <text x="52" y="135" textAnchor="end">
        {figure(b, 1)} %
      </text>
      <text x="248" y="25">
        {figure(parts_a, 1)}
      </text>
      <text x="248" y="135">
        {figure(parts_b, 1)}
      </text>
      <title>{`${first}, ${second}: ${text}`}</title>
    </svg>
  );
}
