import { Button } from '@mantine/core';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, client } from '../../api/client';
import type { DrinkDocument } from '../../api/types';
import { figure } from '../../lib/format';
import { useReadingWords } from '../../lib/useMoney';
import { Notice } from '../../parts/Notice';
import { NumberField } from '../../parts/NumberField';
import { SideDrawer } from '../../parts/SideDrawer';
import { useSizes } from './useSizes';
import classes from './Drinks.module.css';

/** A reading of one size that somebody wants to be another. */
export interface Asked {
  reading: string;
  size: string;
}

interface WaysDrawerProps {
  document: DrinkDocument;
  asked: Asked;
  readOnly: boolean;
  onUse: (drink: DrinkDocument) => void;
  onClose: () => void;
}

/** What a figure should be, and ways to it: each changes one thing and says what else moves. */
export function WaysDrawer({ document, asked, readOnly, onUse, onClose }: WaysDrawerProps) {
  const words = useReadingWords();
  const { report } = useSizes(document);
  const [value, setValue] = useState<number | null>(null);
  const reading = report?.readings.find((each) => each.id === asked.reading);
  const size = document.sizes.find((each) => each.id === asked.size);
  const now = reading?.sizes[document.sizes.findIndex((each) => each.id === asked.size)]?.likely ?? null;
  const found = useQuery({
    queryKey: ['drink ways', document, asked, value],
    queryFn: ({ signal }) =>
      answer(client.POST('/api/v1/drinks/ways', { body: { document, ask: { ...asked, value: value ?? 0 } }, signal })),
    enabled: value !== null,
    retry: false,
    gcTime: 0,
    placeholderData: keepPreviousData,
  });
  const title = `${reading?.title ?? ''}, ${size?.name ?? ''}`;
  return (
    <SideDrawer opened title={title} closeLabel="Close the ways" width={480} onClose={onClose}>
      <div className={classes.form}>
        <p className={classes.verdict}>
          {now !== null && reading && `Now ${words(reading.id, now, reading.digits, reading.unit)}.`}
        </p>
        {reading?.basis && <p className={classes.small}>Worked out by: {reading.basis}.</p>}
        <NumberField
          shown
          size="md"
          label="It should be"
          unit={reading?.unit ?? ''}
          low={0}
          high={1_000_000}
          value={value}
          placeholder={now === null ? undefined : figure(now, reading?.digits ?? 1)}
          onNumber={setValue}
        />
        {found.isError && <Notice tone="stop" text={found.error.message} />}
        {found.data && found.data.ways.length === 0 && (
          <Notice
            tone="look"
            text="Nothing in this cup can bring it there by itself. Change what goes in, or the size."
          />
        )}
        <ul className={classes.list}>
          {found.data?.ways.map((way) => (
            <li key={way.words} className={classes.way}>
              <div className={classes.wayHead}>
                <strong>{way.words}</strong>
                {!readOnly && (
                  <Button size="md" aria-label={`Apply: ${way.words}`} onClick={() => onUse(way.drink)}>
                    Apply
                  </Button>
                )}
              </div>
              <span className={classes.small}>
                comes to {words(asked.reading, way.comes_to, reading?.digits ?? 1, reading?.unit ?? '')}
                {way.moved.map(
                  (move) =>
                    `, ${move.title.toLowerCase()} ${words(move.reading, move.before, move.digits, '')} → ${words(move.reading, move.after, move.digits, move.unit)}`,
                )}
              </span>
              {way.cautions.map((caution) => (
                <Notice key={caution} tone="look" text={caution} />
              ))}
            </li>
          ))}
        </ul>
      </div>
    </SideDrawer>
  );
}
