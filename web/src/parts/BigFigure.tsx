import type { ReactNode } from 'react';
import classes from './BigFigure.module.css';

interface BigFigureProps {
  /** What the figure is. */
  label: ReactNode;
  /** The figure, as shown. */
  value: string;
  unit: string;
  /** Where it comes from: each looks different, and says so in words. */
  kind: 'weighed' | 'measured' | 'computed' | 'asked';
  /** A line below: when, by what. */
  note?: ReactNode;
  /** One figure a screen can be read across the kitchen. @default false */
  huge?: boolean;
  tone?: 'look' | 'stop' | undefined;
  /** What is pressed to enter it anew. */
  children?: ReactNode;
}

const WORDS = { weighed: 'weighed', measured: 'measured', computed: 'calculated', asked: '' };

/** A figure to be read at arm's length. */
export function BigFigure({ label, value, unit, kind, note, huge = false, tone, children }: BigFigureProps) {
  return (
    <div
      className={classes.root}
      data-kind={kind}
      data-huge={huge || undefined}
      data-long={value.length > 3 || undefined}
      data-tone={tone}
    >
      <span className={classes.label}>
        {label}
        {WORDS[kind] && <span className={classes.kind}>{WORDS[kind]}</span>}
      </span>
      <span className={classes.value}>
        {value}
        <span className={classes.unit}> {unit}</span>
      </span>
      {note && <span className={classes.note}>{note}</span>}
      {children && <span className={classes.action}>{children}</span>}
    </div>
  );
}
