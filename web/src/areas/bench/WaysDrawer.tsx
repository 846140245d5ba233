import { Loader } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { answer, client } from '../../api/client';
import type { MethodDocument, ReadingReport, SuggestionReport } from '../../api/types';
import { figure } from '../../lib/format';
import { useReadingWords } from '../../lib/useMoney';
import { Notice } from '../../parts/Notice';
import { SideDrawer } from '../../parts/SideDrawer';
import { WayCard } from '../../parts/WayCard';
import classes from './WaysDrawer.module.css';

/** What was typed over which reading. */
export interface Asked {
  reading: string;
  title: string;
  unit: string;
  value: number;
}

interface WaysDrawerProps {
  asked: Asked | null;
  /** Readings that must stay where they are. */
  held: ReadingReport[];
  document: MethodDocument;
  readOnly: boolean;
  onTake: (way: SuggestionReport) => void;
  onClose: () => void;
}

/** Ways to what was typed over a reading. Taking one changes the method, and can be undone like any change. */
export function WaysDrawer({ asked, held, document, readOnly, onTake, onClose }: WaysDrawerProps) {
  const hold = held.map((each) => each.id);
  const ways = useQuery({
    queryKey: ['ways', asked?.reading, asked?.value, hold, document],
    queryFn: ({ signal }) =>
      answer(
        client.POST('/api/v1/suggestions', {
          body: { document, reading: asked!.reading, value: asked!.value, hold },
          signal,
        }),
      ),
    enabled: asked !== null,
    retry: false,
    staleTime: 0,
    gcTime: 0,
  });
  const found = ways.data;
  const words = useReadingWords();
  const shown = asked && `${plain(asked.value)}${asked.unit ? ` ${asked.unit}` : ''}`;
  return (
    <SideDrawer
      opened={asked !== null}
      title={asked && `Ways to ${shown}`}
      closeLabel="Close the ways"
      width={520}
      onClose={onClose}
    >
      {asked && (
        <p className={classes.from} tabIndex={-1} data-autofocus>
          {asked.title}
          {found && ` is ${figure(found.before, found.digits)}${asked.unit ? ` ${asked.unit}` : ''} now.`}
          {held.length > 0 &&
            ` Held: ${held.map((each) => `${each.title} ${words(each.id, each.value, each.digits, each.unit)}`).join(', ')}.`}
          {!readOnly && found && found.suggestions.length > 0 && ' Apply one to change the method; Undo takes it back.'}
        </p>
      )}
      {ways.isFetching && !found && (
        <p className={classes.from} role="status">
          <Loader size="xs" /> Calculating
        </p>
      )}
      {ways.error && <Notice tone="stop" text={ways.error.message} />}
      {found && found.suggestions.length > 0 && (
        <ul className={classes.list} aria-label={`Ways to ${shown}`}>
          {found.suggestions.map((way) => (
            <WayCard key={way.id} way={way} onTake={readOnly ? undefined : () => onTake(way)} />
          ))}
        </ul>
      )}
      {found?.why_not.map((text) => (
        <Notice key={text} tone="look" text={text} />
      ))}
    </SideDrawer>
  );
}

/** A typed number as it was meant: no trailing zeros. */
function plain(value: number): string {
  return value.toLocaleString('en-GB', { maximumFractionDigits: 6 });
}
