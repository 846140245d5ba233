import { TextInput } from '@mantine/core';
import type { ApiProblem } from '../../api/problem';
import type { DrinkDocument, DrinkFigure, DrinkSizeOut, DrinkSizes } from '../../api/types';
import { figure, grams, range } from '../../lib/format';
import { useReadingWords } from '../../lib/useMoney';
import { Card } from '../../parts/Card';
import { CupDrawing } from './CupDrawing';
import { type DrinkEdit, setAmount } from './edits';
import type { Asked } from './WaysDrawer';
import classes from './SizesCard.module.css';

/** What stands under every cup; the rest is in “All readings”. */
const SHOWN = ['sugars_100ml', 'energy', 'caffeine'];
const SHORT: Record<string, string> = {
  sugars_100ml: 'sugars',
  cost: 'ingredients',
  margin: 'margin before making',
  cost_made: 'cost',
  margin_made: 'margin',
};

/** What stands under every cup: with the making of what is made here in its money, where that is known. */
function shownOf(report: DrinkSizes): string[] {
  const known = report.readings.find((each) => each.id === 'cost_made')?.why_not === '';
  return [...SHOWN, ...(known ? ['cost_made', 'margin_made'] : ['cost', 'margin'])];
}

interface SizesCardProps {
  document: DrinkDocument;
  report: DrinkSizes | null;
  problem: ApiProblem | null;
  stale: boolean;
  /** The component whose amount stands large. */
  dose: string | null;
  readOnly: boolean;
  onEdit: (of: string, edit: DrinkEdit) => void;
  onAsk: (asked: Asked) => void;
}

/** The cups to one scale, each with its dose and what is read of it; a figure that is pressed asks what it should be. */
export function SizesCard({ document, report, problem, stale, dose, readOnly, onEdit, onAsk }: SizesCardProps) {
  const largest = Math.max(...document.sizes.map((size) => size.cup_ml));
  const count = document.sizes.length;
  return (
    <Card
      title={count === 1 ? 'One size' : `${COUNTS[count] ?? count} sizes, to scale`}
      aside={report ? 'press a figure to say what it should be' : undefined}
      className={classes.card}
    >
      {!report && document.components.length === 0 && (
        <p className={classes.first}>Add what goes into the cup first: the syrup, the coffee, the milk.</p>
      )}
      <div className={classes.sizes} data-stale={(report && stale) || undefined}>
        {document.sizes.map((size, index) => {
          const drawn = report?.sizes.find((each) => each.id === size.id);
          const component = document.components.find((each) => each.id === dose);
          const read = report?.components
            .find((each) => each.id === dose)
            ?.in_sizes.find((each) => each.size === size.id);
          return (
            <section key={size.id} className={classes.size} aria-label={size.name}>
              <div className={classes.drawing}>
                <CupDrawing size={drawn ?? empty(size)} largest_ml={largest} />
              </div>
              <h3>{size.name}</h3>
              <p className={classes.small}>{figure(size.cup_ml)} ml cup</p>
              {component && (
                <TextInput
                  aria-label={`Dose in ${size.name}`}
                  className={classes.dose}
                  classNames={{ input: classes.doseInput ?? '' }}
                  placeholder="none"
                  readOnly={readOnly}
                  value={component.amounts?.[size.id] ?? ''}
                  error={problem?.textFor(`components.${component.id}.amounts.${size.id}`)}
                  onChange={(event) => {
                    const text = event.currentTarget.value;
                    onEdit(`amount ${component.id} ${size.id}`, setAmount(component.id, size.id, text));
                  }}
                />
              )}
              <p className={classes.small}>{read ? readAs(read) : ' '}</p>
              {report && drawn && (
                <dl className={classes.figures}>
                  {shownOf(report).map((id) => {
                    const reading = report.readings.find((each) => each.id === id);
                    const at = report.sizes.findIndex((each) => each.id === size.id);
                    return (
                      reading && (
                        <Figure
                          key={id}
                          reading={reading}
                          index={at < 0 ? index : at}
                          name={size.name}
                          onAsk={() => onAsk({ reading: id, size: size.id })}
                        />
                      )
                    );
                  })}
                </dl>
              )}
            </section>
          );
        })}
      </div>
      {report && missing(report) && <p className={classes.small}>{missing(report)}</p>}
    </Card>
  );
}

const COUNTS: Record<number, string> = { 2: 'Two', 3: 'Three', 4: 'Four', 5: 'Five', 6: 'Six', 7: 'Seven', 8: 'Eight' };

/** A cup before anything is in it. */
function empty(size: DrinkDocument['sizes'][number]): DrinkSizeOut {
  return {
    id: size.id,
    name: size.name,
    cup_ml: size.cup_ml,
    fill_ml: size.fill_ml ?? null,
    price: size.price ?? null,
    fills_ml: 0,
    ice_g: 0,
    melted_g: 0,
    layers: [],
    curdling: null,
    cautions: [],
  };
}

/** Why money is not told, or not all of it, once for all sizes. */
function missing(report: DrinkSizes): string {
  const why = (id: string) => report.readings.find((each) => each.id === id)?.why_not ?? '';
  return why('cost') || (why('cost_made') && `Making is not in it: ${why('cost_made')}`);
}

/** “15 g”, and beside it the millilitres of what was written in strokes or spoons. */
function readAs(read: DrinkSizes['components'][number]['in_sizes'][number]): string {
  const ml = read.ml == null ? '' : `, ${figure(read.ml)} ml`;
  return `${grams(read.grams)} g${ml}`;
}

interface FigureProps {
  reading: DrinkFigure;
  index: number;
  name: string;
  onAsk: () => void;
}

function Figure({ reading, index, name, onAsk }: FigureProps) {
  const words = useReadingWords();
  const value = reading.sizes[index];
  const per = reading.id === 'sugars_100ml' ? 'g/100 ml' : reading.unit;
  const said = words(reading.id, value?.likely, reading.digits, per);
  const band =
    value?.low != null && value.high != null && wide(value.low, value.high, reading.digits)
      ? range(value.low, value.high, reading.digits)
      : null;
  return (
    <div>
      <dt>{SHORT[reading.id] ?? reading.title.toLowerCase()}</dt>
      <dd>
        {value?.likely == null ? (
          <span title={reading.why_not}>—</span>
        ) : (
          <button
            type="button"
            className={classes.value}
            aria-label={`${reading.title} in ${name}: ${said}. Say what it should be`}
            title={band ? `${band} ${reading.unit}` : undefined}
            onClick={onAsk}
          >
            {said}
          </button>
        )}
      </dd>
    </div>
  );
}

/** Whether a range says more than its figure does. */
function wide(low: number, high: number, digits: number): boolean {
  return high - low >= 10 ** -digits;
}
