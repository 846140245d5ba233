import type { ReactNode } from 'react';
import classes from './Card.module.css';

interface CardProps {
  title?: string;
  /** Small words beside the title. */
  aside?: ReactNode;
  className?: string | undefined;
  children: ReactNode;
}

/** A panel of a screen. */
export function Card({ title, aside, className, children }: CardProps) {
  return (
    <section className={`${classes.card} ${className ?? ''}`} aria-label={title}>
      {title && (
        <header className={classes.head}>
          <h2>{title}</h2>
          {aside && <span className={classes.aside}>{aside}</span>}
        </header>
      )}
      {children}
    </section>
  );
}
