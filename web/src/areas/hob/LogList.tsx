import type { BatchOut, SheetReport, What } from '../../api/types';
import { clock } from '../../lib/format';
import { device } from '../../outbox/device';
import classes from './hob.module.css';
import { useHold } from './useHold';

/** So many of one's own entries may be taken back: those of the last steps. */
const MOST = 12;

interface LogListProps {
  sheet: SheetReport;
  people: BatchOut['people'];
  /** Whether it is unfolded to begin with. */
  open: boolean;
  /** What takes an entry back; without it the log is only read. */
  enter?: ((what: What) => void) | undefined;
}

/** Everything that was entered, the newest first; what was taken back stays, struck through. */
export function LogList({ sheet, people, open, enter }: LogListProps) {
  if (sheet.log.length === 0) return null;
  const mine = device();
  const own = [...sheet.log].reverse().filter((line) => line.device === mine && !line.undone && line.kind !== 'undone');
  const mayGo = new Set(enter ? own.slice(0, MOST).map((line) => line.entry) : []);
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
            {enter && mayGo.has(line.entry) && <TakeBack line={line} enter={enter} />}
          </li>
        ))}
      </ol>
    </details>
  );
}

/** A press held a second takes an entry back, whichever of the last it was. */
function TakeBack({ line, enter }: { line: SheetReport['log'][number]; enter: (what: What) => void }) {
  const { holding, ...held } = useHold(() => enter({ kind: 'undone', entry: line.entry }));
  return (
    <button type="button" className={classes.takeBack} data-holding={holding || undefined} aria-label={`Take back, hold 1 s: ${line.words}`} {...held}>
      Take back, hold 1 s
    </button>
  );
}
