import { Button } from '@mantine/core';
import type { MoveReport, SuggestionReport } from '../api/types';
import { figure } from '../lib/format';
import { useReadingWords } from '../lib/useMoney';
import classes from './WayCard.module.css';

interface WayCardProps {
  way: SuggestionReport;
  /** Takes the way; without it the card only tells. */
  onTake?: (() => void) | undefined;
}

/** One way to what was typed: what to do in grams, and what else moves. */
export function WayCard({ way, onTake }: WayCardProps) {
  return (
    <li className={classes.card}>
      <div className={classes.head}>
        <h3>{way.title}</h3>
        {onTake && (
          <Button size="md" className={classes.take} onClick={onTake} aria-label={`Apply: ${way.title}`}>
            Apply
          </Button>
        )}
      </div>
      <ul className={classes.todo}>
        {way.todo.map((each) => (
          <li key={each}>{each}</li>
        ))}
      </ul>
      {way.notes.map((note) => (
        <p key={note} className={classes.note}>
          <strong>Note: </strong>
          {note}
        </p>
      ))}
      {way.ties_broken.length > 0 && <p className={classes.ties}>No longer follows: {way.ties_broken.join('; ')}.</p>}
      <Moves moves={way.moves.slice(0, SHOWN)} />
      {way.moves.length > SHOWN && (
        <details className={classes.more}>
          <summary>and {way.moves.length - SHOWN} more</summary>
          <Moves moves={way.moves.slice(SHOWN)} />
        </details>
      )}
    </li>
  );
}

/** Readings come in the order of their weight: the first few are enough to choose by. */
const SHOWN = 6;

function Moves({ moves }: { moves: MoveReport[] }) {
  const moved = useMoveText();
  if (moves.length === 0) return null;
  return (
    <dl className={classes.moves}>
      {moves.map((move) => (
        <div key={move.reading}>
          <dt>{move.title}</dt>
          <dd>
            {moved(move)}
            {move.unit && <span className={classes.unit}> {move.unit}</span>}
          </dd>
        </div>
      ))}
    </dl>
  );
}

/** “1.07 → 1.16” without its unit, “€1.07 → €1.16” of what costs something, an em dash where there is no value. */
export function useMoveText(): (move: MoveReport) => string {
  const words = useReadingWords();
  return ({ reading, before, after, digits, unit }) => {
    const shown = (value: number | null) =>
      unit ? (value === null ? '—' : figure(value, digits)) : words(reading, value, digits, '');
    return `${shown(before)} → ${shown(after)}`;
  };
}
