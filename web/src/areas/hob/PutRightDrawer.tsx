import { Button, Loader } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, client } from '../../api/client';
import type { BatchOut, Deviation, MeasurementCheckReport, SheetReport, SuggestionReport, What } from '../../api/types';
import { useReadingWords } from '../../lib/useMoney';
import { Card } from '../../parts/Card';
import { Notice } from '../../parts/Notice';
import { SideDrawer } from '../../parts/SideDrawer';
import { useMoveText, WayCard } from '../../parts/WayCard';
import type { Ask, Tare } from './ask';
import classes from './hob.module.css';
import { weighing } from './useLines';
import { offPlan } from './offPlan';
import { StartAgain } from './StartAgain';
import { WentIn } from './WentIn';

interface PutRightDrawerProps {
  opened: boolean;
  batch: BatchOut;
  sheet: SheetReport;
  pots: Tare[];
  /** Whether the server has reckoned with every entry: a way is worked out from all of them, or not yet. */
  reckoned: boolean;
  enter: (what: What) => void;
  ask: (ask: Ask) => void;
  onClose: () => void;
}

/** What is off plan, and what can be done from where the batch stands; or to start again. */
export function PutRightDrawer({ opened, batch, sheet, pots, reckoned, enter, ask, onClose }: PutRightDrawerProps) {
  const [about, setAbout] = useState<string | null>(null);
  const words = useReadingWords();
  const shown = (value: number | null, of: Deviation) => words(of.id, value, of.digits, of.unit);
  const { first, besides, dealt, near } = offPlan(sheet, batch.report.measurement_checks);
  const take = (way: SuggestionReport, deviation: Deviation) => {
    if (way.kind === 'weigh_more') {
      const line = sheet.steps
        .flatMap((step) => step.lines.map((each) => ({ step, line: each })))
        .find((each) => `line:${each.line.id}` === deviation.id);
      if (line) ask(weighing(line.line, line.step, pots, enter, { more: true }));
    } else {
      enter({
        kind: 'put_right',
        title: way.title,
        why: `${deviation.title} ${shown(deviation.actual, deviation)} instead of ${shown(deviation.planned, deviation)}`,
        about: deviation.id,
        actual: deviation.actual,
        document: way.document,
      });
    }
    setAbout(null);
    onClose();
  };
  const leave = (deviation: Deviation) => {
    enter({
      kind: 'accepted',
      about: deviation.id,
      actual: deviation.actual,
      title: `${deviation.title} ${shown(deviation.actual, deviation)}`,
      why: `planned ${shown(deviation.planned, deviation)}`,
    });
    setAbout(null);
  };
  const panel = (deviation: Deviation) => (
    <section key={deviation.id} className={classes.panel} aria-label={deviation.title}>
      <h2>{deviation.title}</h2>
      <p className={classes.quiet}>
        {shown(deviation.actual, deviation)} instead of {shown(deviation.planned, deviation)}
      </p>
      {about === deviation.id ? (
        <Rescue
          id={batch.id}
          seq={sheet.seq}
          reckoned={reckoned}
          deviation={deviation}
          onTake={(way) => take(way, deviation)}
          onLeave={() => leave(deviation)}
        />
      ) : (
        <Button variant="default" h={56} fullWidth onClick={() => setAbout(deviation.id)}>
          What can be done
        </Button>
      )}
    </section>
  );
  return (
    <SideDrawer
      opened={opened}
      title="Put right"
      closeLabel="Close without changing anything"
      width={620}
      onClose={onClose}
    >
      <div className={classes.atTheHob}>
        <div className={classes.stack} tabIndex={-1} data-autofocus>
          {batch.report.measurement_checks.map((doubt) => (
            <Doubt key={doubt.stage} doubt={doubt} enter={enter} onClose={onClose} />
          ))}
          {first.length === 0 && <p className={classes.quiet}>Everything is as planned, or near enough.</p>}
          {first.map(panel)}
          {besides.length > 0 && (
            <details className={classes.stack}>
              <summary className={classes.besides}>
                Also off plan, and mostly corrected with it:{' '}
                {besides
                  .map((each) => `${each.title} ${shown(each.actual, each)} (${shown(each.planned, each)} planned)`)
                  .join('; ')}
              </summary>
              {besides.map(panel)}
            </details>
          )}
          {dealt.length > 0 && (
            <p className={classes.quiet}>
              Dealt with:{' '}
              {dealt
                .map(
                  (each) =>
                    `${each.title} ${shown(each.actual, each)} ${each.dealt === 'accepted' ? 'left as it is' : 'put right'} (${shown(each.planned, each)} planned)`,
                )
                .join('; ')}
              .
            </p>
          )}
          {near.length > 0 && (
            <p className={classes.quiet}>
              Near enough:{' '}
              {near
                .map((each) => `${each.title} ${shown(each.actual, each)} (${shown(each.planned, each)} planned)`)
                .join('; ')}
              .
            </p>
          )}
          <WentIn sheet={sheet} enter={enter} onClose={onClose} />
          <StartAgain batch={batch.id} sheet={sheet} enter={enter} onClose={onClose} />
        </div>
      </div>
    </SideDrawer>
  );
}

interface RescueProps {
  id: string;
  seq: number;
  reckoned: boolean;
  deviation: Deviation;
  onTake: (way: SuggestionReport) => void;
  onLeave: () => void;
}

function Rescue({ id, seq, reckoned, deviation, onTake, onLeave }: RescueProps) {
  const found = useQuery({
    queryKey: ['batches', id, 'rescue', deviation.id, seq],
    queryFn: ({ signal }) =>
      answer(
        client.POST('/api/v1/batches/{batch_id}/rescue', {
          params: { path: { batch_id: id } },
          body: { about: deviation.id },
          signal,
        }),
      ),
    enabled: reckoned,
    retry: false,
    staleTime: Infinity,
  });
  const moved = useMoveText();
  if (!reckoned || found.isPending)
    return (
      <p className={classes.quiet} role="status">
        <Loader size="xs" />{' '}
        {reckoned ? 'Calculating from what was weighed' : 'Calculated once the last entries have reached the server'}
      </p>
    );
  if (found.isError) return <Notice tone="stop" text={found.error.message} />;
  return (
    <>
      <ul className={classes.lines} aria-label={`What can be done about ${deviation.title}`}>
        {found.data.suggestions.map((way) => (
          <WayCard key={way.id} way={way} onTake={() => onTake(way)} />
        ))}
      </ul>
      {found.data.why_not.map((text) => (
        <Notice key={text} tone="look" text={text} />
      ))}
      <div className={classes.pill}>
        <span>
          {found.data.left_words}{' '}
          {found.data.left.length > 0 &&
            `Left as it is: ${found.data.left
              .slice(0, 3)
              .map((move) => `${move.title} ${moved(move)} ${move.unit}`.trim())
              .join('; ')}.`}
        </span>
        <Button variant="default" h={52} disabled={deviation.actual === null} onClick={onLeave}>
          Leave it as it is
        </Button>
      </div>
    </>
  );
}

/** Weight and refractometer disagree: what would explain it, to be reckoned with or weighed again. */
function Doubt({
  doubt,
  enter,
  onClose,
}: {
  doubt: MeasurementCheckReport;
  enter: (what: What) => void;
  onClose: () => void;
}) {
  return (
    <Card title="Measurements disagree">
      <Notice tone="look" text={doubt.words} />
      <ul className={classes.lines}>
        {doubt.explanations.map((each) => (
          <li key={each.words} className={classes.pill}>
            <span>{each.words}</span>
            {each.kind === 'reckon' && (
              <Button
                variant="default"
                h={52}
                onClick={() => {
                  enter({ kind: 'reckoned', line: each.line, brix: each.brix });
                  onClose();
                }}
              >
                Use this value
              </Button>
            )}
          </li>
        ))}
      </ul>
    </Card>
  );
}
