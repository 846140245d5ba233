import { Button, NativeSelect } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, client } from '../../api/client';
import type { DrinkDocument, DrinkSwap } from '../../api/types';
import { useReadingWords } from '../../lib/useMoney';
import { Notice } from '../../parts/Notice';
import { SideDrawer } from '../../parts/SideDrawer';
import classes from './Drinks.module.css';

interface SwapsDrawerProps {
  document: DrinkDocument;
  component: string;
  readOnly: boolean;
  onUse: (drink: DrinkDocument) => void;
  onClose: () => void;
}

/** The drink with every milk a bar offers: what changes in a size, what it contains then. */
export function SwapsDrawer({ document, component, readOnly, onUse, onClose }: SwapsDrawerProps) {
  const [size, setSize] = useState(document.sizes[Math.min(1, document.sizes.length - 1)]!.id);
  const index = document.sizes.findIndex((each) => each.id === size);
  const found = useQuery({
    queryKey: ['drink swaps', document, component],
    queryFn: ({ signal }) =>
      answer(
        client.POST('/api/v1/drinks/swaps', {
          body: { document, ask: { component, others: [], same_fat: false } },
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
        {found.isPending && <p className={classes.small}>Pouring each of them …</p>}
        {found.isError && <Notice tone="stop" text={found.error.message} />}
        <ul className={classes.list}>
          {found.data?.swaps.map((swap) => (
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
