import type { ReactNode } from 'react';
import classes from './ScreenHead.module.css';

/** A screen's title, words beside it, and its actions on the right. */
export function ScreenHead({ title, aside, children }: { title: string; aside?: ReactNode; children?: ReactNode }) {
  return (
    <header className={classes.head}>
      <h1>{title}</h1>
      {aside && <span className={classes.aside}>{aside}</span>}
      <div className={classes.actions}>{children}</div>
    </header>
  );
}
