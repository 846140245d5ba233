import { type ReactNode, useRef, useState } from 'react';
import type { SheetLine, SheetStep, What } from '../../api/types';
import { asEntered, figure, grams, range } from '../../lib/format';
import { Notice } from '../../parts/Notice';
import type { Ask, Tare } from './ask';
import { Entry } from './Entry';
import { useLot } from './useLot';
import classes from './hob.module.css';

interface LinesProps {
  /** The batch it is of: what is typed is kept for it. */
  batch: string;
  step: SheetStep;
  /** Pots of the kitchen: any of them may stand on the scale. */
  pots: Tare[];
  mayEnter: boolean;
  enter: (what: What) => void;
  /** Moves the batch on with the last line; nothing where it must not, or where the step is not the one that is now. */
  goOn: (() => void) | undefined;
}

/** A line as it stood when its figure was begun, and what was known then. */
interface Held {
  line: SheetLine;
  step: SheetStep;
  enter: (what: What) => void;
  goOn: (() => void) | undefined;
}

/** Decimals that the scale shows; of larger amounts no more than matter. */
function digits(line: SheetLine): number {
  const room = (line.high_g - line.low_g) / 2;
  if (line.target_g >= 50 && room >= 1) return 0;
  return line.resolution_g >= 1 ? 0 : line.resolution_g >= 0.1 ? 1 : 2;
}

/** What to weigh, one after another: the next one with its keys, large, one press where it is as asked; and the list of them all. */
export function useLines({ batch, step, pots, mayEnter, enter, goOn }: LinesProps): {
  panel: ReactNode;
  list: ReactNode;
} {
  const next = step.lines.find((line) => !line.measured);
  const [picked, setPicked] = useState<string | null>(null);
  const panel = useRef<HTMLElement>(null);
  // Whoever types goes on typing: the field of the next line takes the keyboard where the last one had it.
  const [typing, setTyping] = useState(false);
  // A figure begun stays about the line it was begun for, and knows what was on the screen then: another tablet's entry
  // that arrives meanwhile takes neither the line away nor the question whether both stand.
  const [held, setHeld] = useState<Held | null>(null);
  const line = held?.line ?? step.lines.find((each) => each.id === picked) ?? next;
  const lot = useLot(batch, line?.id);
  const now: Held | undefined = line && { line, step, enter, goOn: isLast(line, step) ? goOn : undefined };
  const about = held ?? now;
  // What is entered of a line says which lot it came out of, where one is chosen.
  const entered = (what: What) => about?.enter(lot.chosen ? { ...what, lot: lot.chosen } : what);
  const ask = about && weighing(about.line, about.step, pots, entered, { goOn: about.goOn });
  if (step.lines.length === 0) return { panel: null, list: null };
  const weighed = (
    <>
      {step.premix && (
        <Notice
          tone="look"
          text={`${step.premix.title} is ${grams(step.premix.grams)} g, ± ${figure(100 * step.premix.error)} % on ${step.premix.scale}. Put together ${step.premix.times} times as much of everything here, ${grams(step.premix.make_g)} g, take ${grams(step.premix.take_g)} g of it and keep the rest for another time.`}
        />
      )}
      {mayEnter && line && ask && (
        <section ref={panel} className={`${classes.panel} ${classes.stays}`} aria-label={`Weigh ${line.title}`}>
          <Entry
            key={ask.id}
            ask={ask}
            batch={batch}
            focused={typing}
            head={
              <>
                <h3 className={classes.lineTitle}>{heading(line, ask)}</h3>
                {line.allergens.length > 0 && <p className={classes.quiet}>Contains {line.allergens.join(', ')}</p>}
                {lot.pick}
              </>
            }
            onTyped={() => held ?? (now && setHeld(now))}
            onClose={() => {
              setHeld(null);
              setTyping(panel.current?.contains(document.activeElement) ?? false);
              setPicked(null);
            }}
          />
        </section>
      )}
    </>
  );
  const list = (
    <ul className={classes.lines} aria-label={`What to weigh: ${step.name}`}>
      {step.lines.map((each) => (
        <li key={each.id}>
          <button
            type="button"
            className={classes.line}
            data-next={each === next || undefined}
            data-in={each.measured ? true : undefined}
            data-off={each.within === false || undefined}
            aria-current={(mayEnter && each.id === line?.id) || undefined}
            disabled={!mayEnter}
            onClick={() => {
              setTyping(true);
              setHeld(null);
              setPicked(each.id);
              panel.current?.querySelector('input')?.focus({ preventScroll: true });
              panel.current?.scrollIntoView({ block: 'nearest' });
            }}
          >
            <span className={classes.what}>
              {each.title}
              {(each.id !== line?.id || !mayEnter) && <span className={classes.small}>{around(each)}</span>}
              {each.allergens.length > 0 && <span className={classes.small}>Contains {each.allergens.join(', ')}</span>}
            </span>
            <span className={classes.grams}>
              {each.measured ? asEntered(each.measured.mass_g, digits(each)) : figure(each.target_g, digits(each))}
              <span className={classes.unit}> g</span>
              <span className={classes.small}>{state(each)}</span>
            </span>
          </button>
        </li>
      ))}
    </ul>
  );
  return { panel: weighed, list };
}

/** Whether with this line everything is in and near enough. */
function isLast(line: SheetLine, step: SheetStep): boolean {
  return step.lines.every((each) => each.id === line.id || each.within === true);
}

/** What is asked for, to be read from afar. */
function heading(line: SheetLine, ask: Ask) {
  return (
    <>
      {ask.title.startsWith('More ') ? `More ${line.title}` : line.title}
      <span className={classes.lineFigure}>
        {figure(ask.asked?.value ?? line.target_g, digits(line))}
        <span className={classes.unit}> g</span>
      </span>
    </>
  );
}

/** Near enough, on which scale, and what it shows with the pot left on it. */
function around(line: SheetLine): string {
  const d = digits(line);
  const words = [`${range(line.low_g, line.high_g, d)} g is near enough`];
  if (line.error !== null && line.error !== undefined && !line.measured)
    words.push(`± ${figure(100 * line.error)} % on this scale`);
  if (line.scale) words.push(line.goes > 1 ? `in ${line.goes} parts on ${line.scale}` : line.scale);
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
  { more = false, goOn }: { more?: boolean; goOn?: (() => void) | undefined } = {},
): Ask {
  const d = digits(line);
  const short = line.measured && line.measured.mass_g < line.low_g;
  const adds = more || (Boolean(short) && line.measured !== null);
  const before_g = adds ? line.measured!.mass_g : 0;
  // Near enough with the last line, the step is over; what is off stays to be looked at.
  const ends = (mass_g: number) => goOn !== undefined && mass_g >= line.low_g && mass_g <= line.high_g;
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
    id: `${line.id}${adds ? ' more' : ''}${line.measured?.entries.at(-1) ?? ''}`,
    title: adds ? `More ${line.title}: ${figure(wants, d)} g` : `${line.title}: ${figure(wants, d)} g`,
    label: 'What the scale shows',
    unit: 'g',
    tares,
    remember: `weighing.${line.scale ?? ''}`,
    asked: { words: `As asked: ${figure(wants, d)} g${ends(before_g + wants) ? ', go on' : ''}`, value: wants },
    hint:
      line.measured && !adds
        ? 'This replaces what was entered before; that stays in the log.'
        : around({ ...line, measured: null }),
    slip: (value, tare) =>
      before_g + value - tare >= line.slip_g
        ? `That is ${figure((before_g + value - tare) / line.target_g)} times as much as asked. Save it if that is what went in.`
        : null,
    keep: (value, tare) => `Save ${asEntered(value - tare, d)} g${ends(before_g + value - tare) ? ', go on' : ''}`,
    onKeep: (value, tare) => {
      enter({ kind: 'weighed', line: line.id, reads_g: round(value), tare_g: round(tare), more: adds });
      if (ends(before_g + value - tare)) goOn?.();
    },
  };
}

function round(value: number): number {
  return Math.round(value * 1000) / 1000;
}
