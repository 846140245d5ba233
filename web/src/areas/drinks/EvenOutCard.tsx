import { Button } from '@mantine/core';
import type { DrinkDocument } from '../../api/types';
import { figure } from '../../lib/format';
import { Card } from '../../parts/Card';
import { Notice } from '../../parts/Notice';
import { useEvenOut } from './useSizes';
import classes from './Drinks.module.css';

interface EvenOutCardProps {
  document: DrinkDocument;
  component: string;
  readOnly: boolean;
  onUse: (drink: DrinkDocument) => void;
}

/** The same sweetness in every size: by weight, in whole strokes, and which stroke would do it. */
export function EvenOutCard({ document, component, readOnly, onUse }: EvenOutCardProps) {
  const found = useEvenOut(document, component);
  if (found.isPending) return null;
  if (found.isError)
    return found.error.status === 422 && !found.error.textFor('target') ? null : (
      <Card title="Even out the sweetness">
        <Notice tone="look" text={found.error.message} />
      </Card>
    );
  const { data } = found;
  const strokes = data.in_strokes.even ? data.in_strokes : data.best;
  const stand = standsAt(document, component, strokes.drink);
  return (
    <Card title="Even out the sweetness" className={classes.even}>
      <p className={classes.verdict}>
        To {figure(data.target, 1)} g of sugars in 100 ml. {data.words[0]}
      </p>
      {data.words.slice(1).map((words) => (
        <p key={words} className={classes.small}>
          {words}
        </p>
      ))}
      {!readOnly && (
        <div className={classes.buttons}>
          {strokes.even && !stand && (
            <Button size="md" onClick={() => onUse(strokes.drink)}>
              {`Use ${figure(strokes.stroke_ml ?? 0, 1)} ml strokes`}
            </Button>
          )}
          <Button
            size="md"
            variant={strokes.even ? 'default' : 'filled'}
            disabled={standsAt(document, component, data.in_grams.drink)}
            onClick={() => onUse(data.in_grams.drink)}
          >
            Use grams
          </Button>
        </div>
      )}
    </Card>
  );
}

/** Whether the drink has these doses already. */
function standsAt(document: DrinkDocument, component: string, other: DrinkDocument): boolean {
  const of = (drink: DrinkDocument) => drink.components.find((each) => each.id === component);
  const [now, then] = [of(document), of(other)];
  return (
    JSON.stringify([now?.amounts, now?.stroke_ml ?? null]) === JSON.stringify([then?.amounts, then?.stroke_ml ?? null])
  );
}
