import type { BatchOut, SheetReport, What } from '../../api/types';
import { clock, when } from '../../lib/format';
import { device } from '../../outbox/device';
import classes from './hob.module.css';
import { TakeBack } from './TakeBack';

/** So many of one's own entries may be taken back: those of the last steps. */
const MOST = 12;

type LogLine = SheetReport['log'][number];

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
  const named = (username: string) => names.get(username) ?? username;
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
              {arrival(line, named) && <span className={classes.arrival}>{arrival(line, named)}</span>}
            </span>
            <span className={classes.by}>{named(line.by)}</span>
            {enter && mayGo.has(line.entry) && <TakeBack entry={line.entry} words={line.words} enter={enter} />}
          </li>
        ))}
      </ol>
    </details>
  );
}

/** How it came to be kept, where that is worth a word: later than it was made, at an odd time, by somebody else's session, not at all. */
function arrival(line: LogLine, named: (username: string) => string): string {
  const words: string[] = [];
  if (line.aside) words.push(`not counted: ${line.aside}`);
  if (line.time_cannot_be && line.said_at) words.push(`its tablet said ${when(line.said_at)}, which cannot be`);
  else if (line.waited && line.received_at) words.push(`arrived ${when(line.received_at)}`);
  if (line.sent_by) words.push(`sent by ${named(line.sent_by)}`);
  if (line.said_by) words.push(`sent as ${named(line.said_by)}`);
  return words.join(' · ');
}
