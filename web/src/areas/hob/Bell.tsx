import { IconBell, IconBellOff } from '@tabler/icons-react';
import { useEffect, useState } from 'react';
import { bellIsOn, setBell, strikeBell, wakeBell } from '../../lib/bell';
import classes from './hob.module.css';

/** Rings again after this long while something waits, and no longer than that. */
const AGAIN_MS = 6000;
const LONGEST_MS = 180_000;

interface BellProps {
  /** Timers that ran out lately, here or at another pot: they ring until they are turned off. */
  due: string[];
  /** Pots that may be near and want weighing: they ring once. */
  look: string[];
}

/** Rings while something is due, and can be told not to. */
export function Bell({ due, look }: BellProps) {
  const [on, setOn] = useState(bellIsOn);
  const what = [...due].sort().join(' ');
  useEffect(() => {
    window.addEventListener('pointerdown', wakeBell);
    window.addEventListener('keydown', wakeBell);
    return () => {
      window.removeEventListener('pointerdown', wakeBell);
      window.removeEventListener('keydown', wakeBell);
    };
  }, []);
  useEffect(() => {
    if (!on || what === '') return;
    strikeBell();
    const again = window.setInterval(strikeBell, AGAIN_MS);
    const enough = window.setTimeout(() => window.clearInterval(again), LONGEST_MS);
    return () => {
      window.clearInterval(again);
      window.clearTimeout(enough);
    };
  }, [on, what]);
  const near = [...look].sort().join(' ');
  useEffect(() => {
    if (on && near !== '') strikeBell();
  }, [on, near]);
  return (
    <button
      type="button"
      className={classes.who}
      aria-pressed={on}
      aria-label="Ring when a timer runs out"
      title={on ? 'Rings when a timer runs out' : 'Does not ring'}
      onClick={() => {
        setBell(!on);
        setOn(!on);
      }}
    >
      {on ? <IconBell size={20} aria-hidden="true" /> : <IconBellOff size={20} aria-hidden="true" />}
    </button>
  );
}
