import { Button, NativeSelect, TextInput } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { useInfiniteQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, NavLink, useParams } from 'react-router';
import { answer, client } from '../../api/client';
import { keys } from '../../api/queries';
import { useMay } from '../../app/person';
import { useMoney } from '../../lib/useMoney';
import { Card } from '../../parts/Card';
import { Notice } from '../../parts/Notice';
import { ScreenHead } from '../../parts/ScreenHead';
import { IngredientView } from './IngredientView';
import { BASIS_WORDS, KIND_WORDS } from './words';
import side from '../../parts/SideList.module.css';
import classes from './Pantry.module.css';

const KINDS = [
  { value: '', label: 'All kinds' },
  ...Object.entries(KIND_WORDS).map(([value, label]) => ({ value, label })),
];

/** Everything the kitchen has or could have: found by name, narrowed by kind, one of them opened beside the list. */
export function PantryScreen() {
  const { id } = useParams();
  const mayEdit = useMay('edit_pantry');
  return (
    <>
      <ScreenHead title="Pantry">
        <Button size="md" variant="default" component={Link} to="/pantry/prices">
          Prices
        </Button>
        <Button size="md" variant="default" component={Link} to="/pantry/suppliers">
          Suppliers
        </Button>
        <Button size="md" variant="default" component={Link} to="/pantry/label">
          From a label
        </Button>
        {mayEdit && (
          <Button size="md" component={Link} to="/pantry/new">
            New ingredient
          </Button>
        )}
      </ScreenHead>
      <div className={side.panes} data-chosen={id ? true : undefined}>
        <Shelf />
        {id ? (
          <IngredientView key={id} id={id} />
        ) : (
          <p className={classes.quiet}>
            Choose an ingredient to see what it is made of, what it costs, and which lots there are.
          </p>
        )}
      </div>
    </>
  );
}

function Shelf() {
  const money = useMoney();
  const [words, setWords] = useState('');
  const [kind, setKind] = useState('');
  const [q] = useDebouncedValue(words.trim(), 150);
  const found = useInfiniteQuery({
    queryKey: [...keys.substances, 'shelf', q, kind],
    queryFn: ({ pageParam, signal }) =>
      answer(client.GET('/api/v1/substances', { params: { query: { q, kind, cursor: pageParam } }, signal })),
    initialPageParam: '',
    getNextPageParam: (last) => last.next,
    placeholderData: (before) => before,
  });
  const hits = found.data?.pages.flatMap((page) => page.hits) ?? [];
  return (
    <Card>
      <TextInput
        aria-label="Find an ingredient"
        placeholder="First letters of a name"
        size="md"
        value={words}
        onChange={(event) => setWords(event.currentTarget.value)}
      />
      <NativeSelect
        aria-label="Kind"
        mt={6}
        size="md"
        data={KINDS}
        value={kind}
        onChange={(event) => setKind(event.currentTarget.value)}
      />
      {found.isError && <Notice tone="stop" text={found.error.message} />}
      <ul className={side.list} aria-label="Ingredients">
        {hits.map((hit) => (
          <li key={hit.id}>
            <NavLink to={`/pantry/${hit.id}`} className={side.row}>
              <span className={side.name}>{hit.title}</span>
              <span className={classes.basis} data-basis={hit.basis}>
                {hit.kind === 'made' ? 'made here' : hit.own ? 'our own' : BASIS_WORDS[hit.basis]}
              </span>
              <span className={side.small}>{hit.character || (hit.kind === 'made' ? '' : KIND_WORDS[hit.kind])}</span>
              <span className={side.small}>{hit.price_per_kg !== null && `${money(hit.price_per_kg)} per kg`}</span>
            </NavLink>
          </li>
        ))}
      </ul>
      {found.data && hits.length === 0 && (
        <p className={classes.quiet}>Nothing by that name. Try fewer letters, or add it yourself.</p>
      )}
      {found.hasNextPage && (
        <Button
          mt={8}
          fullWidth
          variant="default"
          loading={found.isFetchingNextPage}
          onClick={() => void found.fetchNextPage()}
        >
          More
        </Button>
      )}
    </Card>
  );
}
