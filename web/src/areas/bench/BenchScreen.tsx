import { Loader } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useLocation, useParams } from 'react-router';
import { formulaQuery, startersQuery } from '../../api/queries';
import type { MethodDocument } from '../../api/types';
import { Notice } from '../../parts/Notice';
import { Bench } from './Bench';

/** The formula bench: a formula of the site, a copy of one, or a new one from a starting method. */
export function BenchScreen() {
  const { id, starter, from } = useParams();
  if (from) return <Copy key={`copy-${from}`} from={from} />;
  return id ? <Existing key={id} id={id} /> : <Fresh key={starter} starter={starter ?? 'blank'} />;
}

function Existing({ id }: { id: string }) {
  const formula = useQuery(formulaQuery(id));
  if (formula.isError) return <Notice tone="stop" text={formula.error.message} />;
  if (!formula.data) return <Loader aria-label="Loading the formula" />;
  return <Bench id={id} start={formula.data.document} saved={formula.data.document} base={formula.data.draft} />;
}

function Fresh({ starter }: { starter: string }) {
  const starters = useQuery(startersQuery);
  const carried = (useLocation().state as { document?: MethodDocument } | null)?.document;
  if (carried) return <Bench id={`new-${starter}`} start={carried} saved={null} base={0} />;
  if (starters.isError) return <Notice tone="stop" text={starters.error.message} />;
  if (!starters.data) return <Loader aria-label="Loading the starting methods" />;
  const school = starters.data.families.flatMap((family) => family.schools).find((each) => each.id === starter);
  const start = starter === 'blank' ? starters.data.blank : school?.document;
  if (!start)
    return (
      <Notice tone="stop" text={`There is no starting method “${starter}”. Go back to Formulas and choose one.`} />
    );
  return <Bench id={`new-${starter}`} start={start} saved={null} base={0} />;
}

function Copy({ from }: { from: string }) {
  const formula = useQuery(formulaQuery(from));
  if (formula.isError) return <Notice tone="stop" text={formula.error.message} />;
  if (!formula.data) return <Loader aria-label="Loading the formula" />;
  const { document } = formula.data;
  return <Bench id={`copy-${from}`} start={{ ...document, name: `${document.name}, copy` }} saved={null} base={0} />;
}
