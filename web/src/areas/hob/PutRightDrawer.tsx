import { Button, Loader, NumberInput, Select, Textarea } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, client } from '../../api/client';
import { substancesQuery } from '../../api/queries';
import type { BatchOut, Deviation, DoubtReport, SheetReport, WayReport, What } from '../../api/types';
import { figure } from '../../lib/format';
import { Card } from '../../parts/Card';
import { Notice } from '../../parts/Notice';
import { SideDrawer } from '../../parts/SideDrawer';
import { WayCard } from '../../parts/WayCard';
import type { Ask, Tare } from './EntryDialog';
import classes from './hob.module.css';
import { weighing } from './LinesPanel';

interface PutRightDrawerProps {
  opened: boolean;
  batch: BatchOut;
  sheet: SheetReport;
  pots: Tare[];
  enter: (what: What) => void;
  ask: (ask: Ask) => void;
  onClose: () => void;
}

/** What is off plan, and what can be done from where the batch stands; or to start again. */
export function PutRightDrawer({ opened, batch, sheet, pots, enter, ask, onClose }: PutRightDrawerProps) {
  const [about, setAbout] = useState<string | null>(null);
  const off = sheet.deviations.filter((each) => each.beyond);
  const near = sheet.deviations.filter((each) => !each.beyond);
  const take = (way: WayReport, deviation: Deviation) => {
    if (way.kind === 'weigh_more') {
      const line = sheet.steps.flatMap((step) => step.lines.map((each) => ({ step, line: each }))).find((each) => `line:${each.line.id}` === deviation.id);
      if (line) ask(weighing(line.line, line.step, pots, enter, true));
    } else {
      enter({ kind: 'put_right', title: way.title, why: `${deviation.title} ${shown(deviation.actual, deviation)} instead of ${shown(deviation.planned, deviation)}`, document: way.document });
    }
    setAbout(null);
    onClose();
  };
  return (
    <SideDrawer opened={opened} title="Put right" closeLabel="Close without changing anything" width={560} onClose={onClose}>
      <div className={classes.stack} tabIndex={-1} data-autofocus>
        {batch.report.doubts.map((doubt) => (
          <Doubt key={doubt.stage} doubt={doubt} enter={enter} onClose={onClose} />
        ))}
        {off.length === 0 && <p className={classes.quiet}>Nothing is further off plan than is near enough.</p>}
        {off.map((deviation) => (
          <section key={deviation.id} className={classes.panel} aria-label={deviation.title}>
            <h2>{deviation.title}</h2>
            <p className={classes.quiet}>
              {shown(deviation.actual, deviation)} instead of {shown(deviation.planned, deviation)}
            </p>
            {about === deviation.id ? (
              <Rescue id={batch.id} seq={sheet.seq} deviation={deviation} onTake={(way) => take(way, deviation)} />
            ) : (
              <Button variant="default" h={56} fullWidth onClick={() => setAbout(deviation.id)}>
                What can be done
              </Button>
            )}
          </section>
        ))}
        {near.length > 0 && (
          <p className={classes.quiet}>Near enough: {near.map((each) => `${each.title} ${shown(each.actual, each)} (${shown(each.planned, each)} planned)`).join('; ')}.</p>
        )}
        <WentIn sheet={sheet} enter={enter} onClose={onClose} />
        <StartAgain stage={sheet.now} enter={enter} onClose={onClose} />
      </div>
    </SideDrawer>
  );
}

function shown(value: number | null, of: Deviation): string {
  return value === null ? '—' : `${figure(value, of.digits)}${of.unit ? ` ${of.unit}` : ''}`;
}

function Rescue({ id, seq, deviation, onTake }: { id: string; seq: number; deviation: Deviation; onTake: (way: WayReport) => void }) {
  const found = useQuery({
    queryKey: ['batches', id, 'rescue', deviation.id, seq],
    queryFn: ({ signal }) => answer(client.POST('/api/batches/{batch_id}/rescue', { params: { path: { batch_id: id } }, body: { about: deviation.id }, signal })),
    retry: false,
    staleTime: Infinity,
  });
  if (found.isPending)
    return (
      <p className={classes.quiet} role="status">
        <Loader size="xs" /> Working it out from what was weighed
      </p>
    );
  if (found.isError) return <Notice tone="stop" text={found.error.message} />;
  return (
    <>
      <ul className={classes.lines} aria-label={`What can be done about ${deviation.title}`}>
        {found.data.ways.map((way) => (
          <WayCard key={way.id} way={way} onTake={() => onTake(way)} />
        ))}
      </ul>
      {found.data.why_not.map((text) => (
        <Notice key={text} tone="look" text={text} />
      ))}
    </>
  );
}

/** Weight and refractometer disagree: what would explain it, to be reckoned with or weighed again. */
function Doubt({ doubt, enter, onClose }: { doubt: DoubtReport; enter: (what: What) => void; onClose: () => void }) {
  return (
    <Card title="In doubt">
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
                Reckon with that
              </Button>
            )}
          </li>
        ))}
      </ul>
    </Card>
  );
}

/** Something else went in than the formula says, or it was stronger or weaker. */
function WentIn({ sheet, enter, onClose }: { sheet: SheetReport; enter: (what: What) => void; onClose: () => void }) {
  const substances = useQuery(substancesQuery);
  const [line, setLine] = useState<string | null>(null);
  const [substance, setSubstance] = useState<string | null>(null);
  const [brix, setBrix] = useState<number | string>('');
  const lines = sheet.steps.flatMap((step) => step.lines.map((each) => ({ value: each.id, label: each.title, stage: step.id })));
  const chosen = lines.find((each) => each.value === line);
  return (
    <section className={classes.panel} aria-label="What really went in">
      <h2>What really went in</h2>
      <Select size="md" label="Of these" data={lines} value={line} onChange={setLine} />
      {chosen && (
        <>
          <Select mt="sm" size="md" searchable label="Something else went in" data={(substances.data ?? []).map((each) => ({ value: each.id, label: each.title }))} value={substance} onChange={setSubstance} nothingFoundMessage="The pantry has nothing of that name." />
          <Button
            mt="xs"
            h={52}
            variant="default"
            fullWidth
            disabled={!substance}
            onClick={() => {
              enter({ kind: 'swapped', line: chosen.value, substance });
              onClose();
            }}
          >
            That went in
          </Button>
          <NumberInput mt="sm" size="md" label="A drop of it on the refractometer, at 20 °C" suffix=" °Bx" min={0} max={95} value={brix} onChange={setBrix} hideControls />
          <Button
            mt="xs"
            h={52}
            variant="default"
            fullWidth
            disabled={!(Number(brix) > 0)}
            onClick={() => {
              enter({ kind: 'refracted', stage: chosen.stage, line: chosen.value, reading_brix: Number(brix), sample_c: 20, corrects_itself: false });
              onClose();
            }}
          >
            Reckon with that
          </Button>
        </>
      )}
    </section>
  );
}

function StartAgain({ stage, enter, onClose }: { stage: string | null; enter: (what: What) => void; onClose: () => void }) {
  const [reason, setReason] = useState('');
  const [waste, setWaste] = useState<number | string>('');
  return (
    <section className={classes.panel} aria-label="Start again">
      <h2>Start again</h2>
      <Textarea label="Why this batch is stopped" placeholder="burnt, split, the wrong sugar" autosize minRows={2} maxLength={500} size="md" value={reason} onChange={(event) => setReason(event.currentTarget.value)} />
      <NumberInput mt="sm" size="md" label="Thrown away, if it was weighed" suffix=" g" min={0} max={1_000_000} value={waste} onChange={setWaste} hideControls />
      <Button
        mt="sm"
        h={56}
        color="red"
        variant="default"
        disabled={reason.trim() === ''}
        onClick={() => {
          if (Number(waste) > 0) enter({ kind: 'wasted', mass_g: Number(waste), reason: reason.trim(), stage });
          enter({ kind: 'closed', outcome: 'stopped', reason: reason.trim(), again: true });
          onClose();
        }}
      >
        Stop this batch
      </Button>
    </section>
  );
}
