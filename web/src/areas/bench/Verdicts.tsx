import type { ReactNode } from 'react';
import type { WalkReport } from '../../api/types';
import { figure, grams, range } from '../../lib/format';
import { readingValue } from '../../lib/readingText';
import { useMoney } from '../../lib/useMoney';
import { Term } from '../../parts/Term';
import classes from './Verdicts.module.css';

interface VerdictsProps {
  /** Nothing before the first ingredient. */
  report: WalkReport | null;
  /** Whether it is of an older method than the one that stands. */
  stale: boolean;
  /** The jug, small: a mark beside what it holds. */
  jug: ReactNode;
}

/** What decides first, each with a verdict in words: yield and bottles, °Brix, cost, keeping, allergens. */
export function Verdicts({ report, stale, jug }: VerdictsProps) {
  const money = useMoney();
  if (!report)
    return (
      <section className={classes.verdicts} aria-label="Verdicts">
        <div className={classes.jug}>{jug}</div>
        <p className={classes.none}>
          Nothing in it yet. Yield, °Brix, cost, keeping and allergens appear with the first ingredient.
        </p>
      </section>
    );
  const { cold_product: cold, keeping } = report;
  const of = (id: string) => report.readings.find((reading) => reading.id === id);
  const brix = of('brix');
  const cost = of('cost_kg');
  const litre = of('cost_l');
  const fill = report.stages.find((stage) => stage.fill)?.fill;
  const foamed = of('foam_l')?.value;
  return (
    <section className={classes.verdicts} aria-label="Verdicts" data-stale={stale || undefined}>
      <div className={classes.jug}>{jug}</div>
      <Verdict
        title="Yield"
        value={cold.volume_ml === null ? `${grams(cold.mass_g)} g` : `${figure(cold.volume_ml / 1000, 2)} l`}
        words={[
          cold.volume_ml === null ? '' : `${grams(cold.mass_g)} g cold`,
          foamed ? `${figure(foamed, 2)} l foamed` : '',
          fill?.words,
        ]
          .filter(Boolean)
          .join(' · ')}
      />
      <Verdict
        title={<Term id="brix" word="°Brix" />}
        value={brix?.value == null ? 'none' : readingValue(brix)}
        words={brix?.value == null ? 'It is dry.' : (windowWords(report, 'brix', brix.value) ?? coldWords(report))}
      />
      {cost?.value != null && (
        <Verdict
          title="Cost"
          value={`${money(cost.value, cost.digits)} per kg`}
          words={litre?.value == null ? '' : `${money(litre.value, litre.digits)} per litre`}
        />
      )}
      <Verdict
        title="Keeping"
        value={keeping.days == null ? 'not known' : `${keeping.days} ${keeping.days === 1 ? 'day' : 'days'}`}
        words={keepingWords(report)}
        look={keeping.verdict === 'ask'}
      />
      <Verdict title="Allergens" {...allergenWords(report)} />
    </section>
  );
}

interface VerdictProps {
  title: ReactNode;
  value: string;
  words: string;
  /** Whether something is to be answered or looked at first. */
  look?: boolean;
}

function Verdict({ title, value, words, look = false }: VerdictProps) {
  return (
    <dl className={classes.verdict} data-look={look || undefined}>
      <dt>{title}</dt>
      <dd className={classes.value}>{value}</dd>
      {words && <dd className={classes.words}>{words}</dd>}
    </dl>
  );
}

/** Where such things usually stand, and on which side of it this one is. */
function windowWords(report: WalkReport, id: string, value: number): string | null {
  const usual = report.family?.windows.find((each) => each.reading === id);
  if (!usual) return null;
  const span = range(usual.low, usual.high, usual.low % 1 || usual.high % 1 ? 1 : 0);
  const side = value < usual.low ? 'below' : value > usual.high ? 'above' : 'within';
  return `${side} its usual ${span}`;
}

/** Whether sugar stays dissolved in the fridge. */
function coldWords(report: WalkReport): string {
  const margin = report.readings.find((reading) => reading.id === 'cold_margin');
  if (margin?.value == null) return '';
  // The lower end of its band decides: only what is clear of the limit is said to stay clear.
  return (margin.low ?? margin.value) > 0 ? 'will not crystallise cold' : 'may crystallise cold';
}

function keepingWords(report: WalkReport): string {
  const { verdict, questions, dry, days } = report.keeping;
  if (dry) return 'dry: the tables do not apply';
  if (verdict === 'ask')
    return `chilled; answer ${questions.length === 1 ? 'a question' : `${questions.length} questions`}`;
  if (verdict === 'controlled') return 'keep it chilled';
  // What is not held by time and temperature may still have days of its own in the fridge: then those are said.
  return days == null ? 'need not be kept cold, by the tables' : 'keep it chilled for these days';
}

function allergenWords(report: WalkReport): { value: string; words: string; look?: boolean } {
  const certain = report.allergens.filter((each) => each.certain).map((each) => each.allergen);
  const check = report.allergens.filter((each) => !each.certain).map((each) => each.allergen);
  const carried = report.cross_contact.length > 0 ? 'check the equipment' : '';
  const words = [check.length > 0 ? `check packs for ${check.join(', ')}` : '', carried].filter(Boolean).join(' · ');
  return {
    value: certain.length > 0 ? certain.join(', ') : check.length > 0 ? 'none certain' : 'none known',
    words,
    look: check.length > 0,
  };
}
