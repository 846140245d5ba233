import { Button, Checkbox } from '@mantine/core';
import { useInfiniteQuery, useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { answer, client } from '../../api/client';
import { formulaQuery, keys, versionPagesQuery } from '../../api/queries';
import type { VersionCard } from '../../api/types';
import { useMay } from '../../app/person';
import { ago } from '../../lib/format';
import { useReadingWords } from '../../lib/useMoney';
import { Card } from '../../parts/Card';
import { Notice } from '../../parts/Notice';
import { ReadyForService } from '../../parts/ReadyForService';
import { ScreenHead } from '../../parts/ScreenHead';
import { ShowMore } from '../../parts/ShowMore';
import { Comparison } from './Comparison';
import classes from './VersionsScreen.module.css';

/** A version's number, or 0 for the draft. */
type Picked = number;
const DRAFT = 0;
const MOST = 4;
const SHOWN = ['brix', 'yield_l', 'cold_margin', 'cost_kg'];

/** A formula's versions and its draft; two to four of them side by side. */
export function VersionsScreen() {
  const { id = '' } = useParams();
  const pages = useInfiniteQuery(versionPagesQuery(id));
  const found = pages.data?.pages[0];
  const [chosen, setChosen] = useState<Picked[] | null>(null);
  const versions = pages.data?.pages.flatMap((page) => page.versions) ?? [];
  // To begin with: the draft against the newest version, or the two newest where the draft is that version.
  const first =
    versions[0] &&
    (found?.drafted_from === versions[0].number
      ? versions.slice(0, 2).map((v) => v.number)
      : [versions[0].number, DRAFT]);
  const picked = chosen ?? (first && first.length === 2 ? [...first].sort(inOrder) : []);
  const toggle = (which: Picked) =>
    setChosen(picked.includes(which) ? picked.filter((each) => each !== which) : [...picked, which].sort(inOrder));
  if (pages.isError) return <Notice tone="stop" text={pages.error.message} />;
  if (!found) return null;
  const pick = (which: Picked, label: string) => (
    <Checkbox
      aria-label={`Compare ${label}`}
      checked={picked.includes(which)}
      disabled={!picked.includes(which) && picked.length >= MOST}
      onChange={() => toggle(which)}
    />
  );
  return (
    <div className={classes.screen}>
      <ScreenHead title={`Versions of ${found.name}`}>
        <Button component={Link} to={`/formulas/${id}`} variant="default">
          To the bench
        </Button>
      </ScreenHead>
      <Card title="All versions" aside="choose two to four to lay side by side">
        <ul className={classes.list}>
          <li className={classes.row}>
            {pick(DRAFT, 'the draft')}
            <span className={classes.what}>
              <strong>Draft {found.draft}</strong>
              <span className={classes.note}>
                {found.drafted_from ? `the same as version ${found.drafted_from}` : 'not saved as a version yet'}
              </span>
            </span>
          </li>
          {versions.map((version) => (
            <VersionRow
              key={version.number}
              formula={id}
              version={version}
              draft={found.draft}
              pick={pick(version.number, `version ${version.number}`)}
            />
          ))}
        </ul>
        <ShowMore of={pages} label="Show earlier ones" />
        {versions.length === 0 && (
          <p className={classes.note}>
            No version yet. Save one on the bench: it never changes and keeps its kitchen and its ingredients.
          </p>
        )}
      </Card>
      {picked.length >= 2 && (
        <Comparison sides={picked.map((number) => ({ formula: id, version: number === DRAFT ? null : number }))} />
      )}
    </div>
  );
}

/** Versions by number, the draft behind them. */
function inOrder(a: Picked, b: Picked): number {
  return (a || Infinity) - (b || Infinity);
}

function VersionRow({
  formula,
  version,
  draft,
  pick,
}: {
  formula: string;
  version: VersionCard;
  draft: number;
  pick: React.ReactNode;
}) {
  const mayEdit = useMay('edit_formulas');
  const navigate = useNavigate();
  const queryClient = useQueryClient();
  const back = useMutation({
    mutationFn: () => {
      const path = { formula_id: formula, number: version.number };
      return answer(
        client.POST('/api/v1/formulas/{formula_id}/versions/{number}/draft', { params: { path }, body: { draft } }),
      );
    },
    onSuccess: (saved) => {
      queryClient.setQueryData(formulaQuery(formula).queryKey, saved);
      void queryClient.invalidateQueries({ queryKey: keys.formulas });
      void navigate(`/formulas/${formula}`);
    },
  });
  const say = async (ready: boolean, reason: string) => {
    await answer(
      client.POST('/api/v1/formulas/{formula_id}/versions/{number}/ready', {
        params: { path: { formula_id: formula, number: version.number } },
        body: { ready, reason },
      }),
    );
    void queryClient.invalidateQueries({ queryKey: keys.versions(formula) });
  };
  const words = useReadingWords();
  const shown = version.readings.filter((reading) => SHOWN.includes(reading.id) && reading.value !== null);
  return (
    <li className={classes.row}>
      {pick}
      <span className={classes.what}>
        <strong>Version {version.number}</strong>
        <span className={classes.why}>{version.note}</span>
        <span className={classes.note}>
          {shown
            .map((reading) => `${reading.title} ${words(reading.id, reading.value, reading.digits, reading.unit)}`)
            .join(' · ')}
        </span>
        <span className={classes.note} title={`Fingerprint ${version.fingerprint}`}>
          {version.saved_by}, {ago(version.saved_at)}, from draft {version.draft}
        </span>
        <ReadyForService number={version.number} said={version.service} say={say} />
        {back.isError && <Notice tone="stop" text={back.error.message} />}
      </span>
      {mayEdit && (
        <Button
          variant="default"
          size="xs"
          loading={back.isPending}
          onClick={() => back.mutate()}
          aria-label={`Restore as the draft: version ${version.number}`}
        >
          Restore as the draft
        </Button>
      )}
    </li>
  );
}
