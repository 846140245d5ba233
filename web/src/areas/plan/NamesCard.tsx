import { NativeSelect } from '@mantine/core';
import type { Sales, SalesPreview, UnknownName } from '../../api/types';
import { figure } from '../../lib/format';
import { Card } from '../../parts/Card';
import classes from './plan.module.css';

/** What somebody says a name means. */
export interface SaidItem {
  drink: string | null;
  size: string | null;
  left_out: boolean;
}

interface NamesCardProps {
  preview: SalesPreview;
  sales: Sales;
  said: Record<string, SaidItem>;
  saidPlaces: Record<string, number>;
  onItem: (key: string, meant: SaidItem) => void;
  onPlace: (words: string, place: number) => void;
}

/** Names of the file that nobody has said the meaning of. */
export function NamesCard({ preview, sales, onItem, onPlace }: NamesCardProps) {
  if (preview.items.length + preview.places.length === 0) return null;
  return (
    <Card title="What these mean" aside="asked once, then remembered">
      <ul className={classes.list} aria-label="What these mean">
        {preview.places.map((each) => (
          <li key={`place ${each.key}`}>
            <span>
              {each.drink || 'no place'}
              <span className={classes.small}>a place, {figure(each.rows)} rows</span>
            </span>
            <NativeSelect
              aria-label={`Place ${each.drink} means`}
              size="md"
              data={[
                { value: '', label: 'choose the place' },
                ...sales.places.map((place) => ({ value: String(place.id), label: place.name })),
              ]}
              value=""
              onChange={(event) => event.currentTarget.value && onPlace(each.key, Number(event.currentTarget.value))}
            />
          </li>
        ))}
        {preview.items.map((each) => (
          <li key={each.key}>
            <span>
              {[each.drink, each.size].filter(Boolean).join(', ') || 'no name'}
              <span className={classes.small}>
                {figure(each.rows)} rows, {figure(each.cups)} sold
              </span>
            </span>
            <NativeSelect
              aria-label={`${[each.drink, each.size].filter(Boolean).join(', ')} means`}
              size="md"
              data={[
                { value: '', label: 'choose' },
                { value: 'none', label: 'Not one of ours: leave it out' },
                ...choices(each, sales),
              ]}
              value=""
              onChange={(event) => {
                const value = event.currentTarget.value;
                if (value === 'none') onItem(each.key, { drink: null, size: null, left_out: true });
                else if (value) {
                  const [drink, size] = value.split(' ');
                  onItem(each.key, { drink: drink!, size: size!, left_out: false });
                }
              }}
            />
          </li>
        ))}
      </ul>
    </Card>
  );
}

/** Drinks and sizes, the likeliest first. */
function choices(name: UnknownName, sales: Sales): { value: string; label: string }[] {
  const likely = [name.meant, ...name.may_be].filter(Boolean);
  const rank = (id: string) => (likely.includes(id) ? likely.indexOf(id) : likely.length);
  return [...sales.drinks]
    .sort((a, b) => rank(a.id) - rank(b.id))
    .flatMap((drink) =>
      drink.sizes.map((size) => ({ value: `${drink.id} ${size.id}`, label: `${drink.name}, ${size.name}` })),
    );
}
