import { Button, NativeSelect } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { atPlaceQuery, placesQuery, stockQuery } from '../../api/queries';
import type { Container } from '../../api/types';
import { figure } from '../../lib/format';
import { useKept } from '../../lib/useKept';
import { Card } from '../../parts/Card';
import { Notice } from '../../parts/Notice';
import { ScreenHead } from '../../parts/ScreenHead';
import { called, until } from './words';
import { useBottleEntries } from './useBottleEntries';
import classes from './Bottles.module.css';

interface Count {
  place: number | null;
  /** By container: whether it was found. What nobody looked for is not in it. */
  found: Record<string, boolean>;
}
const NONE: Count = { place: null, found: {} };

/** A count of a place: what should stand there, ticked off; what is not there is missing from then on. */
export function CountScreen() {
  const places = useQuery(placesQuery).data ?? [];
  const here = useQuery(stockQuery).data?.here ?? null;
  const kept = useKept<Count>('count', NONE);
  const place = kept.value.place ?? here ?? places[0]?.id ?? null;
  const there = useQuery({ ...atPlaceQuery(place ?? 0), enabled: place !== null });
  const { entries, state } = useBottleEntries();
  const items = there.data?.items ?? [];
  const counted = items.filter((each) => each.id in kept.value.found);
  const missing = counted.filter((each) => !kept.value.found[each.id]);
  const mark = (ids: string[], found: boolean) =>
    kept.set((before) => ({
      ...before,
      place,
      found: { ...before.found, ...Object.fromEntries(ids.map((id) => [id, found])) },
    }));
  const save = () => {
    for (const each of counted)
      entries.enter(each.id, { kind: 'counted', there: kept.value.found[each.id] ?? true, place: String(place) });
    kept.forget({ place, found: {} });
  };
  return (
    <div className={classes.screen}>
      <ScreenHead title="Count">
        <Button size="md" disabled={counted.length === 0} onClick={save}>
          {counted.length === 0
            ? 'Save the count'
            : missing.length === 0
              ? `Save: ${counted.length} here`
              : `Save: ${counted.length - missing.length} here, ${missing.length} missing`}
        </Button>
      </ScreenHead>
      <Link to="/bottles" className={classes.back}>
        All bottles
      </Link>
      {state.waiting.length > 0 && (
        <Notice
          tone="look"
          text={`${state.waiting.length} entries are kept on this device until there is a network.`}
        />
      )}
      {there.isError && <Notice tone="stop" text={there.error.message} />}
      <Card>
        <NativeSelect
          label="What stands at"
          size="md"
          className={classes.place}
          value={place === null ? '' : String(place)}
          data={places.map((each) => ({ value: String(each.id), label: each.name }))}
          onChange={(event) => kept.set({ place: Number(event.currentTarget.value), found: {} })}
        />
        {places.length === 0 && <p className={classes.quiet}>No place is named yet. A lead does that under Site.</p>}
        {there.data && items.length === 0 && <p className={classes.quiet}>Nothing should stand here.</p>}
        <ul className={classes.list} aria-label="What should stand here">
          {items.map((each) => (
            <Row
              key={each.id}
              container={each}
              found={kept.value.found[each.id]}
              onMark={(is) => mark([each.id], is)}
            />
          ))}
        </ul>
        {items.length > counted.length && (
          <Button
            mt={10}
            size="md"
            variant="default"
            onClick={() =>
              mark(
                items.filter((each) => !(each.id in kept.value.found)).map((each) => each.id),
                true,
              )
            }
          >
            {counted.length === 0 ? 'All of it is here' : 'The rest is here'}
          </Button>
        )}
        <p className={classes.quiet}>
          Something stands here that the list does not name? Open it by the code on its label and press Move.
        </p>
      </Card>
    </div>
  );
}

interface RowProps {
  container: Container;
  found: boolean | undefined;
  onMark: (found: boolean) => void;
}

function Row({ container, found, onMark }: RowProps) {
  const name = `${container.name}, ${called(container)}`;
  return (
    <li className={classes.row}>
      <span className={classes.counted}>
        <strong>{container.name}</strong>
        <span className={classes.small}>
          {called(container)} · {figure(container.mass_g)} g{container.opened_at ? ' · open' : ''} · {until(container)}
        </span>
      </span>
      <span className={classes.marks}>
        <Button
          h={48}
          variant={found === true ? 'filled' : 'default'}
          aria-pressed={found === true}
          aria-label={`Here: ${name}`}
          onClick={() => onMark(true)}
        >
          Here
        </Button>
        <Button
          h={48}
          variant={found === false ? 'filled' : 'default'}
          aria-pressed={found === false}
          aria-label={`Not here: ${name}`}
          onClick={() => onMark(false)}
        >
          Not here
        </Button>
      </span>
    </li>
  );
}
