import type { What } from '../../api/types';
import classes from './hob.module.css';
import { useHold } from './useHold';

/** A press held a second takes an entry back. */
export function TakeBack({ entry, words, enter }: { entry: string; words: string; enter: (what: What) => void }) {
  const { holding, ...held } = useHold(() => enter({ kind: 'undone', entry }));
  return (
    <button
      type="button"
      className={classes.takeBack}
      data-holding={holding || undefined}
      aria-label={`Take back, hold 1 s: ${words}`}
      {...held}
    >
      Take back, hold 1 s
    </button>
  );
}
