import { Button, NativeSelect, TextInput } from '@mantine/core';
import { useMutation, useQuery } from '@tanstack/react-query';
import { type FormEvent, useState } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { answer, client } from '../../api/client';
import { startersQuery } from '../../api/queries';
import type { Family, School } from '../../api/types';
import { valueIn, wrongIn } from '../../lib/figures';
import { Card } from '../../parts/Card';
import { Drawing } from '../../parts/Drawing';
import { Notice } from '../../parts/Notice';
import { ScreenHead } from '../../parts/ScreenHead';
import classes from './StartScreen.module.css';

const COUNTED = [
  { value: 'litres', label: 'litres, cold' },
  { value: 'grams', label: 'grams' },
  { value: 'factor', label: 'times the starting method' },
] as const;
type By = (typeof COUNTED)[number]['value'];
const UNIT_OF: Record<By, string> = { litres: 'l', grams: 'g', factor: 'times' };
const TRADES = [
  ['clarity', 'Clarity'],
  ['flavour', 'Flavour'],
  ['pulp', 'Pulp'],
  ['time', 'Time'],
  ['keeping', 'Keeping'],
  ['washing_up', 'Washing-up'],
] as const;

/** A new formula: what it is, how it is made, how much of it. */
export function StartScreen() {
  const starters = useQuery(startersQuery);
  const [asked, setAsked] = useSearchParams();
  if (starters.isError) return <Notice tone="stop" text={starters.error.message} />;
  if (!starters.data) return null;
  const family = starters.data.families.find((each) => each.id === asked.get('family'));
  return family ? (
    <Schools
      key={family.id}
      family={family}
      titles={Object.fromEntries(starters.data.stages.map((stage) => [stage.kind, stage.title]))}
      chosen={asked.get('school')}
      onChoose={(school) => setAsked({ family: family.id, school }, { replace: true })}
    />
  ) : (
    <Families families={starters.data.families} />
  );
}

function Families({ families }: { families: Family[] }) {
  return (
    <>
      <ScreenHead title="New formula" aside="what is it to be" />
      <ul className={classes.families}>
        {families.map((family) => (
          <li key={family.id}>
            <Link to={`/formulas/new?family=${family.id}`} className={classes.family}>
              <span className={classes.named}>
                <Drawing of={{ family: family.id }} size={34} />
                <strong>{family.title}</strong>
              </span>
              <span>{family.words}</span>
              <small>{family.schools.length === 1 ? 'one way' : `${family.schools.length} ways`}</small>
            </Link>
          </li>
        ))}
        <li>
          <Link to="/formulas/new/blank" className={classes.family}>
            <span className={classes.named}>
              <Drawing of={{ family: 'empty_pot' }} size={34} />
              <strong>An empty pot</strong>
            </span>
            <span>Stage by stage, from nothing.</span>
          </Link>
        </li>
      </ul>
    </>
  );
}

function Schools({
  family,
  titles,
  chosen,
  onChoose,
}: {
  family: Family;
  titles: Record<string, string>;
  chosen: string | null;
  onChoose: (school: string) => void;
}) {
  const school = family.schools.find((each) => each.id === chosen);
  return (
    <>
      <ScreenHead title={`New ${family.title}`} aside="how is it to be made">
        <Button variant="default" component={Link} to="/formulas/new">
          Something else
        </Button>
      </ScreenHead>
      {school && <HowMuch key={school.id} school={school} />}
      <p className={classes.words}>{family.words}</p>
      {family.cautions.length > 0 && (
        <p className={classes.caution}>
          <strong>Note: </strong>
          {family.cautions.join(' ')}
        </p>
      )}
      <ul className={classes.schools} aria-label="Schools">
        {family.schools.map((each) => (
          <li key={each.id}>
            <SchoolCard
              titles={titles}
              school={each}
              chosen={each.id === school?.id}
              onChoose={() => onChoose(each.id)}
            />
          </li>
        ))}
      </ul>
    </>
  );
}

function SchoolCard({
  school,
  chosen,
  titles,
  onChoose,
}: {
  school: School;
  chosen: boolean;
  titles: Record<string, string>;
  onChoose: () => void;
}) {
  return (
    <Card className={chosen ? `${classes.card} ${classes.chosen}` : classes.card}>
      <h2 className={classes.title}>{school.title}</h2>
      <p>{school.says}</p>
      <dl className={classes.trade}>
        {TRADES.map(([key, title]) => (
          <div key={key}>
            <dt>{title}</dt>
            <dd>{school.trade[key]}</dd>
          </div>
        ))}
      </dl>
      <p className={classes.stages}>
        {school.document.stages.map((stage) => stage.name ?? titles[stage.kind] ?? stage.kind).join(' → ')}
      </p>
      <Button
        variant={chosen ? 'filled' : 'default'}
        aria-pressed={chosen}
        aria-label={`${chosen ? 'Chosen' : 'Use this'}: ${school.title}`}
        onClick={onChoose}
      >
        {chosen ? 'Chosen' : 'Use this'}
      </Button>
    </Card>
  );
}

/** Name and yield; the method is scaled by walking it. */
function HowMuch({ school }: { school: School }) {
  const navigate = useNavigate();
  const [name, setName] = useState('');
  const [much, setMuch] = useState('');
  const [by, setBy] = useState<By>('litres');
  const start = useMutation({
    mutationFn: async () => {
      const document = { ...school.document, name: name.trim() };
      if (much.trim() === '') return document;
      const scaled = await answer(
        client.POST('/api/v1/scale', { body: { document, ask: { by, value: valueIn(much, UNIT_OF[by]) } } }),
      );
      return scaled.document_on_scales;
    },
    onSuccess: (document) => void navigate(`/formulas/new/${school.id}`, { state: { document } }),
  });
  const wrong = wrongIn(much, UNIT_OF[by], { above: 0, high: 1_000_000 });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (!wrong) start.mutate();
  };
  return (
    <Card title={school.title} className={classes.start}>
      <form className={classes.ask} onSubmit={submit}>
        <TextInput
          label="What it is called"
          value={name}
          autoFocus
          onChange={(event) => setName(event.currentTarget.value)}
        />
        <TextInput
          label="How much of it"
          inputMode="decimal"
          placeholder="as it stands"
          value={much}
          error={wrong}
          onChange={(event) => setMuch(event.currentTarget.value)}
        />
        <NativeSelect
          label="Counted as"
          value={by}
          data={[...COUNTED]}
          onChange={(event) => setBy(event.currentTarget.value as By)}
        />
        <Button type="submit" loading={start.isPending} disabled={wrong !== undefined}>
          Start
        </Button>
      </form>
      {start.error && <Notice tone="stop" text={start.error.message} />}
    </Card>
  );
}
