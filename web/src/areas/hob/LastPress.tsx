import { useRef, useState } from 'react';
import type { SheetReport, What } from '../../api/types';
import { device } from '../../outbox/device';
import classes from './hob.module.css';

/** How long a press must be held to be taken back; wet fingers press by mistake. */
const HOLD_MS = 1000;

interface LastPressProps {
  sheet: SheetReport;
  enter: (what: What) => void;
}

/** The last thing entered on this tablet, and a long press that takes it back. */
export function LastPress({ sheet, enter }: LastPressProps) {
  const [holding, setHolding] = useState(false);
  const timer = useRef(0);
  const mine = device();
  const last = [...sheet.log].reverse().find((line) => line.device === mine && !line.undone && line.kind !== 'undone');
  const stop = () => {
    window.clearTimeout(timer.current);
    setHolding(false);
  };
  if (!last) return sheet.status === 'running' ? <div className={classes.pill}>Nothing entered here yet</div> : null;
  const undo = () => {
    stop();
    enter({ kind: 'undone', entry: last.entry });
  };
  return (
    <button
      type="button"
      className={classes.pill}
      data-holding={holding || undefined}
      onPointerDown={() => {
        setHolding(true);
        timer.current = window.setTimeout(undo, HOLD_MS);
      }}
      onPointerUp={stop}
      onPointerLeave={stop}
      onContextMenu={(event) => event.preventDefault()}
      // A keyboard is not pressed by wet fingers: one press is enough there.
      onKeyDown={(event) => {
        if (event.key === 'Enter' || event.key === ' ') {
          event.preventDefault();
          undo();
        }
      }}
    >
      <span className={classes.twoLines}>Undo: {last.words}</span>
      <span>hold 1 s</span>
    </button>
  );
}
