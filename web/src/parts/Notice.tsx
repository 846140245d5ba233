import type { ReactNode } from 'react';
import classes from './Notice.module.css';

interface NoticeProps {
  /** How loud: a word and a colour go together. */
  tone: 'fine' | 'look' | 'stop';
  text: string;
  children?: ReactNode;
}

const WORDS = { fine: '', look: 'Note: ', stop: 'Warning: ' };

/** A sentence that says what is so and what to do. */
export function Notice({ tone, text, children }: NoticeProps) {
  return (
    <div className={classes.notice} data-tone={tone} role={tone === 'stop' ? 'alert' : 'status'}>
      <span>
        <strong>{WORDS[tone]}</strong>
        {text}
      </span>
      {children}
    </div>
  );
}
