import { Button, TextInput } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { useInfiniteQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { answer, client } from '../../api/client';
import { drinkPagesQuery, keys } from '../../api/queries';
import type { DrinkCard } from '../../api/types';
import { useMay } from '../../app/person';
import { ago, figure } from '../../lib/format';
import { useMoney } from '../../lib/useMoney';
import { Card } from '../../parts/Card';
import { JustArchived } from '../../parts/JustArchived';
import { Notice } from '../../parts/Notice';
import { ScreenHead } from '../../parts/ScreenHead';
import { ShowMore } from '../../parts/ShowMore';
import classes from './Drinks.module.css';

/** The site's drinks, lately touched first. */
export function DrinksScreen() {
  const [words, setWords] = useState('');
  const [q] = useDebouncedValue(words.trim(), 200);
  const drinks = useInfiniteQuery(drinkPagesQuery(q));
  const mayEdit = useMay('edit_formulas');
  const queryClient = useQueryClient();
  const restore = async (drink_id: string) => {
    await answer(client.POST('/api/v1/drinks/{drink_id}/bring-back', { params: { path: { drink_id } } }));
    void queryClient.invalidateQueries({ queryKey: keys.drinks });
  };
  const shown = drinks.data?.pages.flatMap((page) => page.items) ?? [];
  return (
    <>
      <ScreenHead title="Drinks">
        <Button size="md" variant="default" component={Link} to="/costs">
          Costs
        </Button>
        <Button size="md" variant="default" component={Link} to="/drinks/doses">
          Doses and cards
        </Button>
        {mayEdit && (
          <Button size="md" component={Link} to="/drinks/new">
            New drink
          </Button>
        )}
      </ScreenHead>
      <JustArchived restore={restore} />
      {drinks.isError && <Notice tone="stop" text={drinks.error.message} />}
      <Card>
        {(shown.length > 5 || words !== '') && (
          <TextInput
            aria-label="Search drinks"
            placeholder="Search by name"
            className={classes.search}
            value={words}
            onChange={(event) => setWords(event.currentTarget.value)}
          />
        )}
        <ul className={classes.list}>
          {shown.map((card) => (
            <Row key={card.id} card={card} />
          ))}
        </ul>
        <ShowMore of={drinks} />
        {drinks.data && shown.length === 0 && (
          <p>
            {q !== ''
              ? 'No drink fits. Search for less.'
              : `No drink yet. ${mayEdit ? 'Press New drink and say what goes into the cup.' : 'A lead can start one.'}`}
          </p>
        )}
      </Card>
    </>
  );
}

function Row({ card }: { card: DrinkCard }) {
  const money = useMoney();
  const prices = card.sizes.flatMap((size) => (size.price == null ? [] : [size.price]));
  return (
    <li className={classes.row}>
      <span className={classes.words}>
        <Link to={`/drinks/${card.id}`} className={classes.name}>
          {card.name}
        </Link>
        <span className={classes.small}>
          {card.sizes.map((size) => `${size.name} ${figure(size.cup_ml)} ml`).join(', ')}
        </span>
        {card.made_with.length > 0 && <span className={classes.small}>made with {card.made_with.join(', ')}</span>}
        {card.trouble && <span className={classes.trouble}>Look: {card.trouble}</span>}
      </span>
      <span className={classes.state}>
        {card.served_version ? (
          <strong>version {card.served_version}, ready for service</strong>
        ) : card.newest_version ? (
          `version ${card.newest_version}, not served yet`
        ) : (
          'draft only'
        )}
        <span className={classes.small}>
          {prices.length > 0 && `${money(Math.min(...prices))} to ${money(Math.max(...prices))} · `}
          draft {card.draft}, {ago(card.touched_at)}
        </span>
      </span>
    </li>
  );
}
