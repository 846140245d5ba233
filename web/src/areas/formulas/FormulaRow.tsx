import { Link } from 'react-router';
import type { FormulaCard } from '../../api/types';
import { ago, day, dayOf, figure, grams } from '../../lib/format';
import { useMoney } from '../../lib/useMoney';
import { Jug } from '../../parts/Jug';
import classes from './FormulaRow.module.css';

/** A formula in a list: its jug, what it is and what for, how far it is, what it costs and how often it is cooked. */
export function FormulaRow({ card, brief = false }: { card: FormulaCard; brief?: boolean }) {
  const money = useMoney();
  const bands = Object.entries(card.mark?.bands ?? {}).map(([band, share]) => ({ band, title: band, share }));
  return (
    <li className={classes.row} data-brief={brief || undefined}>
      <span aria-hidden="true">
        <Jug size="small" bands={bands} volume_ml={card.mark?.volume_ml ?? null} mass_g={card.mark?.mass_g ?? 0} />
      </span>
      <span className={classes.words}>
        <Link to={`/formulas/${card.id}`} className={classes.name}>
          {card.name}
        </Link>
        <span className={classes.kind}>{[card.family, card.school].filter(Boolean).join(' · ')}</span>
        {!brief && card.purpose && <span className={classes.purpose}>{card.purpose}</span>}
        {card.trouble && <span className={classes.trouble}>Look: {card.trouble}</span>}
      </span>
      {!brief && (
        <span className={classes.state}>
          <State card={card} />
          <span className={classes.kind}>
            {card.cooked > 0
              ? `cooked ${card.cooked === 1 ? 'once' : `${card.cooked} times`}${card.cooked_at ? `, last ${day(dayOf(new Date(card.cooked_at)))}` : ''}`
              : 'not cooked yet'}
          </span>
        </span>
      )}
      <span className={classes.figures}>
        {card.mark && card.mark.mass_g > 0 && (
          <>
            <strong>
              {card.mark.volume_ml ? `${figure(card.mark.volume_ml / 1000, 2)} l` : `${grams(card.mark.mass_g)} g`}
            </strong>
            {card.mark.brix !== null && <span> · {figure(card.mark.brix, 1)} °Bx</span>}
            {!brief && card.mark.cost_kg != null && (
              <span className={classes.when}>{money(card.mark.cost_kg)} per kg</span>
            )}
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

/** How far it is: on the hob, ready for service, a version, or a draft only. */
function State({ card }: { card: FormulaCard }) {
  if (card.on_hob > 0)
    return (
      <span className={classes.badge} data-state="hob">
        on the hob{card.on_hob > 1 ? `, ${card.on_hob} batches` : ''}
      </span>
    );
  if (card.ready != null)
    return (
      <span className={classes.badge} data-state="ready">
        ready: version {card.ready}
      </span>
    );
  return (
    <span className={classes.badge}>{card.version == null ? 'draft' : `version ${card.version}, not ready yet`}</span>
  );
}
