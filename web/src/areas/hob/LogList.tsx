import type { BatchOut, SheetReport } from '../../api/types';
import { clock } from '../../lib/format';
import classes from './hob.module.css';

interface LogListProps {
  sheet: SheetReport;
  people: BatchOut['people'];
  /** Whether it is unfolded to begin with. */
  open: boolean;
}

/** Everything that was entered, the newest first; what was taken back stays, struck through. */
export function LogList({ sheet, people, open }: LogListProps) {
  if (sheet.log.length === 0) return null;
  const names = new Map(people.map((person) => [person.username, person.name]));
  return (
    <details className={classes.panel} open={open}>
      <summary>Log, {sheet.log.length === 1 ? '1 entry' : `${sheet.log.length} entries`}</summary>
      <ol className={classes.log} reversed>
        {[...sheet.log].reverse().map((line) => (
          <li key={line.entry} data-undone={line.undone || undefined}>
            <time dateTime={line.at}>{clock(line.at)}</time>
            <span className={classes.words}>
              {line.words}
              {line.undone && ' (taken back)'}
            </span>
            <span className={classes.by}>{names.get(line.by) ?? line.by}</span>
          </li>
        ))}
      </ol>
    </details>
  );
}
