import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { batchesQuery, formulasQuery, kitchenQuery } from '../../api/queries';
import type { DrinkDocument } from '../../api/types';
import { useMay, usePerson } from '../../app/person';
import { benchPath, keptDrafts } from '../../lib/keptDrafts';
import { figure, when } from '../../lib/format';
import { useNow } from '../../lib/useNow';
import { Card } from '../../parts/Card';
import { Notice } from '../../parts/Notice';
import { ScreenHead } from '../../parts/ScreenHead';
import { BatchRow } from '../batches/BatchRow';
import { CookAgain } from '../batches/CookAgain';
import { useBatchesLive } from '../batches/useBatchesLive';
import { FormulaRow } from '../formulas/FormulaRow';
import classes from './TodayScreen.module.css';

const LATELY = 6;
/** So many formulas are asked for by their ids at once. */
const MOST_ASKED = 50;

/** What was touched lately, what needs a look, and what to do first. */
export function TodayScreen() {
  const person = usePerson();
  const formulas = useQuery(formulasQuery());
  const look = useQuery(formulasQuery({ troubled: true }));
  const now = new Date();
  const day = now.toLocaleDateString('en-GB', { weekday: 'long', day: 'numeric', month: 'long' });
  const cards = formulas.data?.items ?? [];
  const troubled = look.data?.items ?? [];
  return (
    <>
      <ScreenHead title={day} aside={`${person.name} · ${person.site}`} />
      {formulas.isError && <Notice tone="stop" text={formulas.error.message} />}
      <div className={classes.columns}>
        <div className={classes.side}>
          <FirstThings formulas={formulas.data?.items.length} />
          <OnTheHob />
          <Cooling />
          <CookedLately />
        </div>
        <div className={classes.side}>
          <Card title="Recent" aside={cards.length > LATELY ? <Link to="/formulas">all formulas</Link> : undefined}>
            <ul className={classes.list}>
              {cards.slice(0, LATELY).map((card) => (
                <FormulaRow key={card.id} card={card} brief />
              ))}
            </ul>
            {formulas.data && cards.length === 0 && <p>No formula yet.</p>}
          </Card>
          <NotSaved />
          <Card title="Drafts with problems">
            {troubled.length === 0 ? (
              <p className={classes.quiet}>{look.data ? 'No draft has a problem.' : ''}</p>
            ) : (
              <ul className={classes.list}>
                {troubled.map((card) => (
                  <FormulaRow key={card.id} card={card} brief />
                ))}
              </ul>
            )}
            {look.data?.next && <p className={classes.quiet}>And more: correct these first.</p>}
          </Card>
        </div>
      </div>
    </>
  );
}

/** What is being cooked, whichever tablet it is on. */
function OnTheHob() {
  const running = useQuery(batchesQuery({ status: 'running' }));
  useBatchesLive();
  if (!running.data?.length) return null;
  return (
    <Card title="On the hob">
      <ul className={classes.list}>
        {running.data.map((batch) => (
          <BatchRow key={batch.id} batch={batch} />
        ))}
      </ul>
    </Card>
  );
}

/** So many formulas that were cooked last stand to be cooked again. */
const COOKED = 4;

/** What was cooked last, each formula once: the usual thing to do next is to cook it again. */
function CookedLately() {
  const ended = useQuery(batchesQuery({ status: 'finished' }));
  const mayCook = useMay('cook');
  const lately = (ended.data ?? []).filter(
    (batch, i, all) => all.findIndex((each) => each.formula === batch.formula) === i,
  );
  if (!mayCook || lately.length === 0) return null;
  return (
    <Card title="Cook again">
      <ul className={classes.list}>
        {lately.slice(0, COOKED).map((batch) => (
          <li key={batch.id} className={classes.again}>
            <span>
              <Link to={`/batches/${batch.id}`}>{batch.name}</Link>
              <span className={classes.quiet}>
                {' · '}
                {when(batch.started_at)}, {figure(batch.yield_g)} g
              </span>
            </span>
            <CookAgain batch={batch} />
          </li>
        ))}
      </ul>
    </Card>
  );
}

/** What must be held cold and was not shown cold in time, finished or not, until it was or somebody said why not. */
function Cooling() {
  const now = useNow(30_000);
  const cooling = useQuery(batchesQuery({ cooling: true }));
  const open = cooling.data?.filter((batch) => batch.cooling) ?? [];
  if (open.length === 0) return null;
  return (
    <Card title="Cooling" aside="probe it at its marks">
      <ul className={classes.list}>
        {open.map((batch) => {
          const late = batch.cooling!.state !== 'open' || Date.parse(batch.cooling!.by) < now;
          return (
            <li key={batch.id} className={classes.kept}>
              <Link to={`/batches/${batch.id}`}>{batch.name}</Link>
              <span className={classes.quiet}>
                {' · '}
                {late && <strong>Past its time: probe it, or say why not. </strong>}
                {figure(batch.cooling!.at_most_c)} °C by {when(batch.cooling!.by, new Date(now))}
              </span>
            </li>
          );
        })}
      </ul>
    </Card>
  );
}

/** What was typed in this browser and never saved: nothing is lost, and here is where it is. */
function NotSaved() {
  const { username } = usePerson();
  const [all] = useState(() => keptDrafts(username));
  const ids = all.filter((draft) => draft.base > 0).map((draft) => draft.id);
  const there = useQuery({ ...formulasQuery({ ids: ids.slice(0, MOST_ASKED) }), enabled: ids.length > 0 });
  // A formula that was put away takes its draft along; both are there when it is brought back.
  const kept = all.filter(
    (draft) => draft.base === 0 || !there.data || there.data.items.some((card) => card.id === draft.id),
  );
  const [drinks] = useState(() => keptDrafts<DrinkDocument>(username, 'drink'));
  if (kept.length + drinks.length === 0) return null;
  return (
    <Card title="Not saved yet" aside="kept in this browser">
      <ul className={classes.list}>
        {kept.map((draft) => (
          <li key={draft.id} className={classes.kept}>
            <Link to={benchPath(draft.id)}>{draft.document.name || 'A formula without a name'}</Link>
          </li>
        ))}
        {drinks.map((draft) => (
          <li key={draft.id} className={classes.kept}>
            <Link to={`/drinks/${draft.id}`}>{draft.document.name || 'A drink without a name'}</Link>
            <span className={classes.quiet}> · a drink</span>
          </li>
        ))}
      </ul>
    </Card>
  );
}

/** What to do first: each step is there until it is done. */
function FirstThings({ formulas }: { formulas: number | undefined }) {
  const kitchen = useQuery(kitchenQuery);
  const leads = useMay('edit_kitchen');
  if (!kitchen.data || formulas === undefined) return null;
  const { kitchen: place, number } = kitchen.data;
  const steps = [
    { done: number > 0, to: '/site', text: 'Say where the kitchen is: altitude moves every boil.' },
    {
      done: place.pots.some((pot) => pot.tare_g > 0),
      to: '/site',
      text: 'Weigh the empty pots: the weight stops the cook, pot included.',
    },
    { done: place.burners.length > 0, to: '/site', text: 'Enter the burners: minutes come from their power.' },
    {
      done: place.scales.length > 0,
      to: '/site',
      text: 'Enter the scales: what they can carry and how fine they read.',
    },
    { done: formulas > 0, to: '/formulas', text: 'Start a first formula.' },
  ].filter((step) => !step.done);
  if (steps.length === 0) return null;
  return (
    <Card title="Do first">
      <ol className={classes.steps}>
        {steps.map((step) => (
          <li key={step.text}>{leads ? <Link to={step.to}>{step.text}</Link> : `A lead can: ${step.text}`}</li>
        ))}
      </ol>
    </Card>
  );
}
