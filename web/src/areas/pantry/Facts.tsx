import type { Substance } from '../../api/types';
import { figure, range } from '../../lib/format';
import { componentName, density } from './words';
import classes from './Pantry.module.css';

const BASES = { table: 'From a table', label: 'From a label', estimate: 'Estimated' };

/** What is known of an ingredient in a few lines, for whoever has it in hand. */
export function Facts({ substance }: { substance: Substance }) {
  const { document: s } = substance;
  const most = Object.entries(s.composition_g_per_100g)
    .sort(([, a], [, b]) => b - a)
    .slice(0, 4);
  return (
    <div className={classes.facts}>
      <p>
        In 100 g:{' '}
        {most
          .map(([component, grams]) => `${componentName(component)} ${figure(grams, grams < 10 ? 1 : 0)}`)
          .join(', ')}
        . {s.made_from ? `Made here: version ${s.made_from.version.version}` : BASES[s.basis]}
        {s.source && !s.made_from ? `: ${s.source}` : ''}.
      </p>
      <p>
        A spoon or cup holds {density(s)} g/ml, ± {(100 * s.density_spread).toFixed(0)} %.
      </p>
      {Object.keys(s.pieces).length > 0 && (
        <p>
          {Object.entries(s.pieces)
            .map(([word, piece]) => `A ${word} weighs ${piece.grams} g, ± ${(100 * piece.spread).toFixed(0)} %`)
            .join('. ')}
          .
        </p>
      )}
      {s.character && <p>Tastes of {s.character}.</p>}
      {s.edible_portion && (
        <p>
          Trimmed, {range(100 * s.edible_portion.low, 100 * s.edible_portion.high)} % of it is left
          {s.juice_yield
            ? `; of that ${range(100 * s.juice_yield.low, 100 * s.juice_yield.high)} % comes as juice`
            : ''}
          .
        </p>
      )}
      {s.made_from && (
        <p>
          Of{' '}
          {s.made_from.contents
            .map((each) => (each.within === s.title ? each.title : `${each.title} in ${each.within}`))
            .join(', ')
            .toLowerCase()}
          .
        </p>
      )}
      {s.made_from?.days && (
        <p>
          Once made it keeps {s.made_from.days} day{s.made_from.days === 1 ? '' : 's'}, the day of making counted.
        </p>
      )}
      {s.opened && !s.made_from && (
        <p>
          Opened it keeps {range(s.opened.low, s.opened.high)} days{s.opened.storage === 'chilled' ? ', chilled' : ''}:
          common practice; the pack and your local rule come first.
        </p>
      )}
      {s.allergens.length > 0 && (
        <p>
          Contains <strong>{s.allergens.join(', ')}</strong>.
        </p>
      )}
      {s.check_pack_for.length > 0 && <p>Check the pack for {s.check_pack_for.join(', ')}.</p>}
      {substance.hazards.map((hazard) => (
        <p key={hazard.code} data-grave={hazard.grave || undefined}>
          {hazard.words}
        </p>
      ))}
      {s.note && <p>{s.note}</p>}
    </div>
  );
}
