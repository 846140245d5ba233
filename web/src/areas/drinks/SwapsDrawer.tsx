import { Button, Checkbox, NativeSelect } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, client } from '../../api/client';
import type { DrinkDocument, DrinkSwap } from '../../api/types';
import { useReadingWords } from '../../lib/useMoney';
import { Notice } from '../../parts/Notice';
import { SideDrawer } from '../../parts/SideDrawer';
import { IngredientPick } from '../pantry/IngredientPick';
import classes from './Drinks.module.css';

interface SwapsDrawerProps {
  document: DrinkDocument;
  component: string;
  readOnly: boolean;
  onUse: (drink: DrinkDocument) => void;
  onClose: () => void;
}

/** The drink with every milk a bar offers, or with whatever else is named: what changes in a size, what it contains then; as much of each, or as creamy. */
export function SwapsDrawer({ document, component, readOnly, onUse, onClose }: SwapsDrawerProps) {
  const [size, setSize] = useState(document.sizes[Math.min(1, document.sizes.length - 1)]!.id);
  const [creamy, setCreamy] = useState(false);
  const [others, setOthers] = useState<{ id: string; title: string }[]>([]);
  const index = document.sizes.findIndex((each) => each.id === size);
  const found = useQuery({
    queryKey: ['drink swaps', document, component, others, creamy],
    queryFn: ({ signal }) =>
      answer(
        client.POST('/api/v1/drinks/swaps', {
          body: { document, ask: { component, others: others.map((each) => each.id), milks: true, same_fat: creamy } },
          signal,
        }),
      ),
    retry: false,
    gcTime: 0,
  });
  return (
    <SideDrawer opened title="Another milk" closeLabel="Close the milks" width={560} onClose={onClose}>
      <div className={classes.form}>
        <NativeSelect
          size="md"
          label="What changes in"
          value={size}
          data={document.sizes.map((each) => ({ value: each.id, label: each.name }))}
          onChange={(event) => setSize(event.currentTarget.value)}
        />
        <Checkbox
          size="md"
          label="As much of each as keeps the fat in 100 ml"
          description="two ways to one creaminess, told apart by how far they thin the coffee or tea"
          checked={creamy}
          onChange={(event) => setCreamy(event.currentTarget.checked)}
        />
        {others.length < 3 && (
          <IngredientPick
            key={others.length}
            size="md"
            label="Or with something else: a creamer, a cream"
            value={null}
            onChoose={(hit) =>
              !others.some((each) => each.id === hit.id) && setOthers([...others, { id: hit.id, title: hit.title }])
            }
          />
        )}
        {found.isPending && <p className={classes.small}>Pouring each of them …</p>}
        {found.isError && <Notice tone="stop" text={found.error.message} />}
        <ul className={classes.list}>
          {inOrder(found.data?.swaps ?? [], others).map((swap) => (
            <li key={swap.substance} className={classes.way}>
              <div className={classes.wayHead}>
                <strong>{swap.title}</strong>
                {!readOnly && swap.changes.length > 0 && (
                  <Button
                    size="sm"
                    variant="default"
                    aria-label={`Use it: ${swap.title}`}
                    onClick={() => onUse(swap.drink)}
                  >
                    Use it
                  </Button>
                )}
              </div>
              {creamy && swap.changes.length > 0 && (
                <span className={classes.small}>
                  takes {swap.drink.components.find((each) => each.id === component)?.amounts?.[size] ?? 'none'}
                </span>
              )}
              <Changes swap={swap} index={index} />
              {(swap.gains.length > 0 || swap.loses.length > 0) && (
                <span>
                  {swap.gains.length > 0 && (
                    <>
                      now contains <strong>{swap.gains.join(', ')}</strong>
                    </>
                  )}
                  {swap.gains.length > 0 && swap.loses.length > 0 && ', '}
                  {swap.loses.length > 0 && `no longer ${swap.loses.join(', ')}`}
                </span>
              )}
              {swap.words.map((words) => (
                <Notice key={words} tone="look" text={words} />
              ))}
            </li>
          ))}
        </ul>
      </div>
    </SideDrawer>
  );
}

/** What was named stands first. */
function inOrder(swaps: DrinkSwap[], others: { id: string }[]): DrinkSwap[] {
  const named = (swap: DrinkSwap) => others.some((each) => each.id === swap.substance);
  return [...swaps.filter(named), ...swaps.filter((swap) => !named(swap))];
}

function Changes({ swap, index }: { swap: DrinkSwap; index: number }) {
  const words = useReadingWords();
  const moved = swap.changes.flatMap((change) => {
    const [before, after] = [change.before[index], change.after[index]];
    if (before == null || after == null) return [];
    const [was, is] = [
      words(change.reading, before, change.digits, ''),
      words(change.reading, after, change.digits, ''),
    ];
    return was === is ? [] : [`${change.title.toLowerCase()} ${was} → ${is}${change.unit && ` ${change.unit}`}`];
  });
  return <span className={classes.small}>{moved.length > 0 ? moved.join(', ') : 'no figure changes'}</span>;
}
