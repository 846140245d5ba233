import { Link } from 'react-router';
import type { FormulaCard } from '../../api/types';
import { ago, figure, grams } from '../../lib/format';
import { Jug } from '../../parts/Jug';
import classes from './FormulaRow.module.css';

/** A formula in a list: its jug, what it is, what it makes. */
export function FormulaRow({ card }: { card: FormulaCard }) {
  const bands = Object.entries(card.mark?.bands ?? {}).map(([band, share]) => ({ band, title: band, share }));
  return (
    <li className={classes.row}>
      <span aria-hidden="true">
        <Jug size="small" bands={bands} volume_ml={card.mark?.volume_ml ?? null} mass_g={card.mark?.mass_g ?? 0} />
      </span>
      <span className={classes.words}>
        <Link to={`/formulas/${card.id}`} className={classes.name}>
          {card.name}
        </Link>
        <span className={classes.kind}>{[card.family, card.school].filter(Boolean).join(' · ')}</span>
        {card.trouble && <span className={classes.trouble}>Look: {card.trouble}</span>}
      </span>
      <span className={classes.figures}>
        {card.mark && card.mark.mass_g > 0 && (
          <>
            <strong>
              {card.mark.volume_ml ? `${figure(card.mark.volume_ml / 1000, 2)} l` : `${grams(card.mark.mass_g)} g`}
            </strong>
            {card.mark.brix !== null && <span> · {figure(card.mark.brix, 1)} °Bx</span>}
          </>
        )}
        <span className={classes.when}>
          draft {card.draft}, {ago(card.touched_at)}
          {card.saved_by ? `, ${card.saved_by}` : ''}
        </span>
      </span>
    </li>
  );
}
