import type { SheetLine, SheetStep, What } from '../../api/types';
import { asEntered, figure, grams, range } from '../../lib/format';
import { Notice } from '../../parts/Notice';
import type { Ask, Tare } from './EntryDialog';
import classes from './hob.module.css';

interface LinesPanelProps {
  step: SheetStep;
  /** Pots of the kitchen: any of them may stand on the scale. */
  pots: Tare[];
  mayEnter: boolean;
  enter: (what: What) => void;
  ask: (ask: Ask) => void;
}

/** Decimals that the scale shows; of larger amounts no more than matter. */
function digits(line: SheetLine): number {
  const room = (line.high_g - line.low_g) / 2;
  if (line.target_g >= 50 && room >= 1) return 0;
  return line.resolution_g >= 1 ? 0 : line.resolution_g >= 0.1 ? 1 : 2;
}

/** What to weigh, one after another; the next one can be read from afar. */
export function LinesPanel({ step, pots, mayEnter, enter, ask }: LinesPanelProps) {
  const next = step.lines.find((line) => !line.measured);
  return (
    <>
      {step.premix && (
        <Notice
          tone="look"
          text={`${step.premix.title} is ${grams(step.premix.grams)} g, ± ${figure(100 * step.premix.error)} % on ${step.premix.scale}. Put together ${step.premix.times} times as much of everything here, ${grams(step.premix.make_g)} g, take ${grams(step.premix.take_g)} g of it and keep the rest for another time.`}
        />
      )}
      <ul className={classes.lines} aria-label={`What to weigh: ${step.name}`}>
        {step.lines.map((line) => (
          <li key={line.id}>
            <button
              type="button"
              className={classes.line}
              data-next={line === next || undefined}
              data-in={line.measured ? true : undefined}
              data-off={line.within === false || undefined}
              disabled={!mayEnter}
              onClick={() => ask(weighing(line, step, pots, enter))}
            >
              <span className={classes.what}>
                {line.title}
                <span className={classes.small}>{around(line)}</span>
                {line.allergens.length > 0 && (
                  <span className={classes.small}>Contains {line.allergens.join(', ')}</span>
                )}
              </span>
              <span className={classes.grams}>
                {line.measured ? asEntered(line.measured.mass_g, digits(line)) : figure(line.target_g, digits(line))}
                <span className={classes.unit}> g</span>
                <span className={classes.small}>{state(line)}</span>
              </span>
            </button>
          </li>
        ))}
      </ul>
    </>
  );
}

/** Near enough, on which scale, and what it shows with the pot left on it. */
function around(line: SheetLine): string {
  const d = digits(line);
  const words = [`${range(line.low_g, line.high_g, d)} g is near enough`];
  if (line.error !== null && line.error !== undefined && !line.measured)
    words.push(`± ${figure(100 * line.error)} % on this scale`);
  if (line.scale) words.push(line.goes > 1 ? `in ${line.goes} parts on the ${line.scale}` : line.scale);
  if (line.pot_reads_g !== null && !line.measured)
    words.push(`the scale shows ${figure(line.pot_reads_g)} g if the pot stays on it`);
  return words.join(' · ');
}

function state(line: SheetLine): string {
  if (!line.measured) return 'to weigh';
  if (line.within) return 'weighed';
  const d = digits(line);
  const off = line.measured.mass_g - line.target_g;
  return off < 0
    ? `weighed, ${asEntered(-off, d)} g short of ${figure(line.target_g, d)}`
    : `weighed, ${asEntered(off, d)} g over ${figure(line.target_g, d)}`;
}

/** Asks for what the scale shows; what is short can be added to. */
export function weighing(
  line: SheetLine,
  step: SheetStep,
  pots: Tare[],
  enter: (what: What) => void,
  more = false,
): Ask {
  const d = digits(line);
  const short = line.measured && line.measured.mass_g < line.low_g;
  const adds = more || (Boolean(short) && line.measured !== null);
  const wants = adds ? line.target_g - line.measured!.mass_g : line.target_g;
  const before = line.pot_reads_g === null ? null : line.pot_reads_g - (line.measured?.mass_g ?? line.target_g);
  const tares: Tare[] = [{ title: 'Nothing: tared to 0', grams: 0 }];
  if (before !== null && before > 0)
    tares.push({
      title: `${step.vessel} and what is in it`,
      grams: Math.round((before + (adds ? line.measured!.mass_g : 0)) / line.resolution_g) * line.resolution_g,
    });
  tares.push(...pots.filter((pot) => !tares.some((each) => each.grams === pot.grams)));
  return {
    title: adds ? `More ${line.title}: ${figure(wants, d)} g` : `${line.title}: ${figure(wants, d)} g`,
    label: 'What the scale shows',
    unit: 'g',
    tares,
    asked: { words: `As asked: ${figure(wants, d)} g`, value: wants },
    hint:
      line.measured && !adds
        ? 'This replaces what was entered before; that stays in the log.'
        : around({ ...line, measured: null }),
    keep: (value, tare) => `Save ${asEntered(value - tare, d)} g`,
    onKeep: (value, tare) =>
      enter({ kind: 'weighed', line: line.id, reads_g: round(value), tare_g: round(tare), more: adds }),
  };
}

function round(value: number): number {
  return Math.round(value * 1000) / 1000;
}
