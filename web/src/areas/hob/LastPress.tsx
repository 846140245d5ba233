import type { SheetReport, What } from '../../api/types';
import { device } from '../../outbox/device';
import classes from './hob.module.css';
import { useHold } from './useHold';

interface LastPressProps {
  sheet: SheetReport;
  enter: (what: What) => void;
}

/** The last thing entered on this tablet, and a long press that takes it back. */
export function LastPress({ sheet, enter }: LastPressProps) {
  const mine = device();
  const last = [...sheet.log].reverse().find((line) => line.device === mine && !line.undone && line.kind !== 'undone');
  const { holding, ...held } = useHold(() => last && enter({ kind: 'undone', entry: last.entry }));
  if (!last) return sheet.status === 'running' ? <div className={classes.pill}>Nothing entered here yet</div> : null;
  return (
    <button type="button" className={classes.pill} data-holding={holding || undefined} {...held}>
      <span className={classes.twoLines}>Undo: {last.words}</span>
      <span>hold 1 s</span>
    </button>
  );
}
