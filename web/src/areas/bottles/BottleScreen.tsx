import { Button, TextInput } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { type ReactNode, useState } from 'react';
import { Link, useParams } from 'react-router';
import { containerQuery } from '../../api/queries';
import type { BottleEntry, Place } from '../../api/types';
import { useMay } from '../../app/person';
import { figure, when } from '../../lib/format';
import { useKept } from '../../lib/useKept';
import { Notice } from '../../parts/Notice';
import { NumberField } from '../../parts/NumberField';
import { called, placeName, told, until } from './words';
import { useBottleEntries } from './useBottleEntries';
import classes from './Bottles.module.css';

type What = BottleEntry['movement']['what'];

/** One bottle on a phone: what it is, until when, and what became of it, in large presses for one hand. */
export function BottleScreen() {
  const { id = '' } = useParams();
  const found = useQuery(containerQuery(id));
  const mayMove = useMay('move_stock');
  const reads = useMay('read');
  const { entries, state } = useBottleEntries();
  const [asked, setAsked] = useState<'weigh' | 'pour' | 'move' | null>(null);
  if (found.isError && !found.data) return <Notice tone="stop" text={found.error.message} />;
  if (!found.data) return null;
  const { container, places, movements } = found.data;
  const waiting = state.waiting.filter((each) => each.container === id);
  const enter = (what: What) => {
    entries.enter(id, what);
    setAsked(null);
  };
  // What was just pressed counts here at once, as a word; its figures are the server's to work out.
  const opened = container.opened_at !== null || waiting.some((each) => each.movement.what.kind === 'opened');
  const ended = waiting.some((each) => ['emptied', 'poured_away'].includes(each.movement.what.kind));
  const gone = container.gone !== '' || ended;
  return (
    <div className={classes.bottle}>
      <Link to="/bottles" className={classes.back}>
        All bottles
      </Link>
      <h1>{container.name}</h1>
      <p className={classes.small}>
        {called(container)} · {placeName(places, container.place)}
      </p>
      <p className={classes.state} data-haste={container.haste}>
        {until(container)}
      </p>
      <details className={classes.small}>
        <summary>Why</summary>
        {container.why}
      </details>
      <p className={classes.mass}>
        {figure(container.mass_g)} <span className={classes.unit}>g</span>
        <span className={classes.small}>
          {' '}
          of {figure(container.filled_g)} g{opened ? ', open' : ', not opened'}
        </span>
      </p>
      {waiting.length > 0 && (
        <Notice
          tone="look"
          text={`Kept on this phone until there is a network: ${waiting.map((each) => told(each.movement.what, places)).join(', ')}.`}
        />
      )}
      {!state.keeps && <Notice tone="look" text="This browser keeps nothing: leave this page open until it is sent." />}
      {state.refused.map(({ entry, why }) => (
        <Notice key={entry.movement.id} tone="stop" text={`Not taken: ${told(entry.movement.what, places)}. ${why}`}>
          <Button variant="default" h={48} onClick={() => entries.drop(entry.movement.id)}>
            Discard
          </Button>
        </Notice>
      ))}
      {mayMove && (
        <div className={classes.presses}>
          {!gone && !opened && <Press onClick={() => enter({ kind: 'opened' })}>Opened</Press>}
          <Press onClick={() => setAsked(asked === 'weigh' ? null : 'weigh')} quiet={asked === 'weigh'}>
            Weigh
          </Press>
          {asked === 'weigh' && <Weigh onSave={(mass_g) => enter({ kind: 'weighed', mass_g })} />}
          {!gone && <Press onClick={() => enter({ kind: 'emptied' })}>Empty</Press>}
          {!gone && (
            <Press onClick={() => setAsked(asked === 'move' ? null : 'move')} quiet={asked === 'move'}>
              Move
            </Press>
          )}
          {asked === 'move' && (
            <Places
              places={places.filter((place) => place.id !== container.place)}
              onChoose={(place) => enter({ kind: 'moved', place: String(place.id) })}
            />
          )}
          {!gone && (
            <Press onClick={() => enter({ kind: container.frozen ? 'thawed' : 'frozen' })}>
              {container.frozen ? 'Out of the freezer' : 'Into the freezer'}
            </Press>
          )}
          {!gone && (
            <Press onClick={() => setAsked(asked === 'pour' ? null : 'pour')} quiet={asked === 'pour'}>
              Pour away
            </Press>
          )}
          {asked === 'pour' && <PourAway onSave={(reason) => enter({ kind: 'poured_away', reason, mass_g: null })} />}
        </div>
      )}
      {(opened || container.kind === 'aside') && (
        <Button
          fullWidth
          h={52}
          mt={8}
          variant="default"
          component="a"
          href={`/api/v1/stock/containers/${id}/label.pdf`}
          target="_blank"
          rel="noopener"
        >
          {opened ? 'Label for the open bottle' : 'Label for it'}
        </Button>
      )}
      {reads && (
        <Link to={`/bottles/${id}/origin`} className={classes.back}>
          What is in it, lot by lot
        </Link>
      )}
      <h2>What was entered</h2>
      <ol className={classes.history}>
        {movements.map((each) => (
          <li key={each.id}>
            {when(each.at)}: {told(each.what, places)}, {each.by}
          </li>
        ))}
      </ol>
    </div>
  );
}

function Press({ children, quiet = false, onClick }: { children: ReactNode; quiet?: boolean; onClick: () => void }) {
  return (
    <Button fullWidth h={60} fz={19} variant={quiet ? 'light' : 'default'} onClick={onClick}>
      {children}
    </Button>
  );
}

/** What the scale shows, the empty bottle taken off. */
function Weigh({ onSave }: { onSave: (mass_g: number) => void }) {
  const [shows, setShows] = useState<number | null>(null);
  // Bottles of a bar are alike: what an empty one weighs is typed once on this phone.
  const { value, set } = useKept('bottle', { empty_g: 0 });
  const mass_g = shows === null ? null : Math.round((shows - value.empty_g) * 10) / 10;
  return (
    <div className={classes.entry}>
      <NumberField
        label="What the scale shows"
        shown
        size="md"
        value={shows}
        unit="g"
        low={0}
        high={20_000}
        onNumber={setShows}
        onClear={() => setShows(null)}
      />
      <NumberField
        label="The empty bottle weighs"
        shown
        size="md"
        value={value.empty_g}
        unit="g"
        low={0}
        high={5_000}
        onNumber={(empty_g) => set({ empty_g })}
      />
      {mass_g !== null && mass_g < 0 && (
        <p role="alert" className={classes.wrong}>
          The empty bottle weighs more than the scale shows. Correct one of them.
        </p>
      )}
      <Button
        fullWidth
        h={60}
        fz={19}
        disabled={mass_g === null || mass_g < 0}
        onClick={() => mass_g !== null && onSave(mass_g)}
      >
        {mass_g === null || mass_g < 0 ? 'Save' : `Save ${figure(mass_g)} g`}
      </Button>
    </div>
  );
}

const REASONS = ['Past its day', 'Spilt', 'Tastes wrong', 'Stood out too long'];

function PourAway({ onSave }: { onSave: (reason: string) => void }) {
  const [other, setOther] = useState('');
  return (
    <div className={classes.entry}>
      {REASONS.map((reason) => (
        <Button key={reason} fullWidth h={52} variant="default" onClick={() => onSave(reason)}>
          {reason}
        </Button>
      ))}
      <TextInput
        size="md"
        label="Another reason"
        value={other}
        maxLength={500}
        onChange={(e) => setOther(e.currentTarget.value)}
      />
      <Button fullWidth h={60} fz={19} disabled={other.trim() === ''} onClick={() => onSave(other.trim())}>
        Save
      </Button>
    </div>
  );
}

function Places({ places, onChoose }: { places: Place[]; onChoose: (place: Place) => void }) {
  if (places.length === 0)
    return <p className={classes.quiet}>There is no other place yet. A lead names places under Site.</p>;
  return (
    <div className={classes.entry}>
      {places.map((place) => (
        <Button key={place.id} fullWidth h={52} variant="default" onClick={() => onChoose(place)}>
          {place.name}
        </Button>
      ))}
    </div>
  );
}
