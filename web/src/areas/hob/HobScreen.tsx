import { Button } from '@mantine/core';
import { IconArrowLeft, IconUsers } from '@tabler/icons-react';
import { type ReactNode, useEffect, useRef, useState } from 'react';
import { Link, useParams } from 'react-router';
import type { BatchOut, SheetStep, What } from '../../api/types';
import { useMay, usePerson } from '../../app/person';
import { clock, clockSpan, figure } from '../../lib/format';
import { useNow } from '../../lib/useNow';
import { useOutbox, useOutboxState } from '../../outbox/OutboxProvider';
import { Notice } from '../../parts/Notice';
import { called } from '../batches/standing';
import { Bell } from './Bell';
import { BoilFacts, BoilPanel } from './BoilPanel';
import { Ended } from './Ended';
import { CoolingPanel } from './CoolingPanel';
import type { Ask, Tare } from './ask';
import { EntryDialog } from './EntryDialog';
import classes from './hob.module.css';
import { FillClose } from './FillClose';
import { LastPress } from './LastPress';
import { useLines } from './useLines';
import { LogList } from './LogList';
import { MainPress } from './MainPress';
import { NoteDialog } from './NoteDialog';
import { AsidePanel, FillPanel, EquipmentPanel, GivePanel, WarmPanel } from './OtherPanels';
import { withWaiting } from './overlay';
import { offPlan } from './offPlan';
import { OtherPots, useOtherPots } from './OtherPots';
import { CaramelPanel, FoamPanel, HoldPanel } from './ProcessPanels';
import { PutRightDrawer } from './PutRightDrawer';
import { Questions } from './Questions';
import { SetAside } from './SetAside';
import { SwitchDialog } from './SwitchDialog';
import { Timers } from './Timers';
import { useBatch } from './useBatch';

/** A batch on the hob, from Start to a filled bottle. */
export function HobScreen() {
  const { id = '' } = useParams();
  const { batch, kept, problem } = useBatch(id);
  if (problem && !batch) return <Notice tone="stop" text={problem.message} />;
  if (!batch) return null;
  return <Hob key={batch.id} batch={batch} kept={kept} />;
}

function Hob({ batch, kept }: { batch: BatchOut; kept: boolean }) {
  const person = usePerson();
  const mayCook = useMay('cook');
  const outbox = useOutbox();
  const state = useOutboxState();
  const now = useNow();
  const others = useOtherPots(batch.id);
  const [looking, setLooking] = useState<string | null>(null);
  const [ask, setAsk] = useState<Ask | null>(null);
  const [closing, setClosing] = useState<string | null>(null);
  const [open, setOpen] = useState<'right' | 'note' | 'who' | null>(null);
  const waiting = state.waiting.filter((each) => each.batch === batch.id);
  // An entry that the server has stays laid over the sheet until the sheet knows it: nothing jumps back.
  const known = new Set(batch.report.sheet.log.map((line) => line.entry));
  const sent = state.sent.filter((each) => each.batch === batch.id);
  const laid = [...sent, ...waiting.filter((each) => !each.refused)].filter((each) => !known.has(each.event.id));
  const sheet = withWaiting(batch.report.sheet, laid);
  const mayEnter = mayCook && sheet.status === 'running';
  // A dialog keeps what it was opened with: what another tablet entered since was not on this screen, and both stand.
  const seen = state.seen[batch.id] ?? 0;
  const enter = (what: What) => {
    void outbox.enter(batch.id, person, what, seen);
  };
  const step = sheet.steps.find((each) => each.id === (looking ?? sheet.now)) ?? sheet.steps[sheet.steps.length - 1];
  const pots = (batch.document.kitchen?.pots ?? [])
    .filter((pot) => pot.tare_g > 0)
    .map((pot) => ({ title: pot.name, grams: pot.tare_g }));
  const toClose = sheet.steps.find((each) => each.id === closing) ?? null;
  const off = offPlan(sheet, batch.report.measurement_checks).count;
  const finished = sheet.status !== 'running';
  const timers = [...sheet.timers, ...others.flatMap((other) => other.timers)];
  const near = [
    { id: batch.id, at: step?.boil?.lift_weigh_at, now: step?.id === sheet.now },
    ...others.map((other) => ({ id: other.id, at: other.lift_weigh_at, now: true })),
  ];
  return (
    <div className={classes.screen}>
      <header className={classes.head}>
        <Link to="/batches" aria-label="To all batches">
          <IconArrowLeft size={26} aria-hidden="true" />
        </Link>
        <h1>{batch.name}</h1>
        <span className={classes.number}>{called(batch)}</span>
        {batch.kind === 'practice' && <strong className={classes.practice}>Practice: nothing of it counts</strong>}
        <button
          type="button"
          className={classes.who}
          onClick={() => setOpen('who')}
          aria-label={`${person.name} is cooking: somebody else`}
        >
          <IconUsers size={20} aria-hidden="true" /> <span>{person.name}</span>
        </button>
        <Bell
          due={timers.filter((timer) => isLate(timer.due_at, now)).map((timer) => timer.timer)}
          look={near.filter((pot) => pot.now && pot.at && isLate(pot.at, now)).map((pot) => pot.id)}
        />
        <Saved
          waiting={waiting.length}
          refused={waiting.find((each) => each.refused)?.refused}
          trouble={state.trouble}
          savedAt={state.savedAt[batch.id]}
          kept={kept}
          keeps={state.keeps}
          now={now}
        />
      </header>
      <main className={classes.body} id="main">
        <Steps
          steps={sheet.steps}
          shown={step?.id}
          now={sheet.now}
          onLook={(id) => setLooking(id === sheet.now ? null : id)}
        />
        {waiting.map(
          ({ refused, place, event }) =>
            refused &&
            place !== undefined && (
              <Notice
                key={event.id}
                tone="stop"
                text={`An entry of ${clock(event.at)} was not taken: ${refused} Enter it anew as it should be.`}
              >
                <Button variant="default" h={52} onClick={() => void outbox.drop(place)}>
                  Discard
                </Button>
              </Notice>
            ),
        )}
        <SetAside sheet={sheet} mayEnter={mayCook} enter={enter} />
        {(sheet.made_first ?? []).map((words) => (
          <Notice key={words} tone="look" text={words} />
        ))}
        <Questions questions={sheet.questions} people={batch.people} mayEnter={mayCook} enter={enter} />
        {finished ? (
          <Ended batch={batch} sheet={sheet} now={now} reckoned={laid.length === 0} enter={enter} />
        ) : (
          step && <h2 className={classes.title}>{step.title}</h2>
        )}
        {step && !finished && (
          <Step
            key={step.id}
            batch={batch}
            step={step}
            isNow={step.id === sheet.now}
            pots={pots}
            now={now}
            mayEnter={mayEnter}
            enter={enter}
            ask={setAsk}
          >
            <div className={classes.row}>
              <Timers sheet={sheet} step={step} now={now} mayEnter={mayEnter} enter={enter} ask={setAsk} />
              {mayCook && <LastPress sheet={sheet} enter={enter} />}
            </div>
            {sheet.cooling?.stages.includes(step.id) && (
              <CoolingPanel
                batch={batch.id}
                log={sheet.cooling}
                now={now}
                mayEnter={mayEnter && !step.warm}
                enter={enter}
                ask={setAsk}
              />
            )}
            <OtherPots pots={others} now={now} />
          </Step>
        )}
        {sheet.ready_low && sheet.ready_high && (
          <p className={classes.quiet}>
            All of it ready about {clockSpan(sheet.ready_low, sheet.ready_high)} · {figure(sheet.yield_g)} g calculated,{' '}
            {figure(sheet.planned_yield_g)} g planned
          </p>
        )}
        {(finished || !step) && <OtherPots pots={others} now={now} />}
        <LogList sheet={sheet} people={batch.people} open={false} enter={mayCook ? enter : undefined} />
        {finished && mayCook && <LastPress sheet={sheet} enter={enter} />}
      </main>
      {mayEnter && (
        <footer className={classes.foot}>
          <Button variant="default" onClick={() => setOpen('right')}>
            Put right{off > 0 ? ` (${off})` : ''}
          </Button>
          <Button variant="default" onClick={() => setOpen('note')}>
            Note
          </Button>
          <MainPress
            step={step}
            sheetNow={sheet.now}
            last={sheet.steps.every((each) => each.id === step?.id || each.state === 'done')}
            timers={sheet.timers}
            now={now}
            behind={laid.length > 0 && !state.trouble}
            enter={enter}
            onBack={() => setLooking(null)}
            onCloseFill={(step) => setClosing(step.id)}
          />
        </footer>
      )}
      <EntryDialog ask={ask} batch={batch.id} onClose={() => setAsk(null)} />
      <FillClose
        step={toClose}
        fill={toClose?.fill ?? null}
        last={sheet.steps.every((each) => each.id === closing || each.state === 'done')}
        enter={enter}
        onClose={() => setClosing(null)}
      />
      <SwitchDialog opened={open === 'who'} onClose={() => setOpen(null)} />
      <NoteDialog
        opened={open === 'note'}
        batch={batch.id}
        there={{ grams: sheet.there_g, most: sheet.there_most_g }}
        stage={step?.id ?? null}
        enter={enter}
        onClose={() => setOpen(null)}
      />
      <PutRightDrawer
        opened={open === 'right'}
        batch={batch}
        sheet={sheet}
        pots={pots}
        reckoned={laid.length === 0}
        enter={enter}
        ask={setAsk}
        onClose={() => setOpen(null)}
      />
    </div>
  );
}

/** What was forgotten long ago does not ring any more. */
const LONG_AGO_MS = 600_000;

function isLate(at: string, now: number): boolean {
  const late = now - Date.parse(at);
  return late >= 0 && late < LONG_AGO_MS;
}

function Steps({
  steps,
  shown,
  now,
  onLook,
}: {
  steps: SheetStep[];
  shown: string | undefined;
  now: string | null;
  onLook: (id: string) => void;
}) {
  const list = useRef<HTMLOListElement>(null);
  useEffect(() => {
    const here = list.current?.querySelector('[aria-current]')?.parentElement;
    if (here && list.current) list.current.scrollLeft = here.offsetLeft - list.current.offsetLeft - 60;
  }, [shown]);
  return (
    <nav aria-label="Steps">
      <ol className={classes.steps} ref={list} data-sideways>
        {steps.map((step) => (
          <li key={step.id}>
            <button
              type="button"
              data-state={step.state}
              aria-current={step.id === shown ? 'step' : undefined}
              aria-label={`${step.name}: ${step.state === 'done' ? 'done' : step.id === now ? 'now' : 'to do'}`}
              onClick={() => onLook(step.id)}
            >
              <span>{step.name}</span>
            </button>
          </li>
        ))}
      </ol>
    </nav>
  );
}

interface StepProps {
  batch: BatchOut;
  step: SheetStep;
  /** Whether it is the step that is now, not one that is looked at. */
  isNow: boolean;
  pots: Tare[];
  now: number;
  mayEnter: boolean;
  enter: (what: What) => void;
  ask: (ask: Ask) => void;
  /** What stands between what must be known and what can be done meanwhile. */
  children: ReactNode;
}

/** One step with everything the cook needs at it. */
function Step({ batch, step, isNow, pots, now, mayEnter, enter, ask, children }: StepProps) {
  const lines = useLines({
    batch: batch.id,
    step,
    pots,
    mayEnter,
    enter,
    goOn: isNow && step.stops.length === 0 ? () => enter({ kind: 'done', stage: step.id }) : undefined,
  });
  return (
    <div className={classes.wide}>
      <div className={classes.stack}>
        {step.cautions.length > 0 && (
          <p className={classes.caution}>
            <strong>Note: </strong>
            {step.cautions.join(' ')}
          </p>
        )}
        {step.stops.map((words) => (
          <Notice key={words} tone="stop" text={words} />
        ))}
        {step.faults.map((fault) => (
          <Notice key={fault.code + fault.field} tone="stop" text={`${fault.message} ${fault.remedy}`} />
        ))}
        {lines.panel}
        {step.boil && (
          <BoilPanel
            isNow={isNow}
            step={step}
            boil={step.boil}
            pots={pots}
            now={now}
            mayEnter={mayEnter}
            enter={enter}
            ask={ask}
          />
        )}
        {step.warm && <WarmPanel step={step} mayEnter={mayEnter} enter={enter} ask={ask} />}
        {step.caramel && <CaramelPanel caramel={step.caramel} />}
        {step.hold && <HoldPanel step={step} hold={step.hold} now={now} mayEnter={mayEnter} enter={enter} ask={ask} />}
        {step.foam && <FoamPanel foam={step.foam} />}
        {step.expects_g !== null && <GivePanel step={step} mayEnter={mayEnter} enter={enter} ask={ask} />}
        {step.kept_aside && (
          <AsidePanel
            step={step}
            aside={step.kept_aside}
            practised={batch.kind === 'practice'}
            mayEnter={mayEnter}
            enter={enter}
            ask={ask}
          />
        )}
        {step.fill && <FillPanel step={step} fill={step.fill} mayEnter={mayEnter} enter={enter} ask={ask} />}
        {step.equipment && (
          <EquipmentPanel step={step} equipment={step.equipment} mayEnter={mayEnter} enter={enter} ask={ask} />
        )}
        {step.note && <p className={classes.panel}>{step.note}</p>}
      </div>
      <div className={classes.stack}>
        {lines.list}
        {step.boil && (
          <BoilFacts batch={batch} step={step} boil={step.boil} now={now} mayEnter={mayEnter} enter={enter} ask={ask} />
        )}
        {children}
        {step.parallel_tasks.length > 0 && (
          <section className={classes.panel} aria-label="Meanwhile">
            <h2>Meanwhile</h2>
            <ul className={classes.todo}>
              {step.parallel_tasks.map((each) => (
                <li key={each}>{each}</li>
              ))}
            </ul>
          </section>
        )}
      </div>
    </div>
  );
}

/** Whether everything entered is safe, in words. */
function Saved({
  waiting,
  refused,
  trouble,
  savedAt,
  kept,
  keeps,
  now,
}: {
  waiting: number;
  refused: string | undefined;
  trouble: string | null;
  savedAt: number | undefined;
  kept: boolean;
  keeps: boolean;
  now: number;
}) {
  if (refused)
    return (
      <span className={classes.saved} data-waits="true" role="status">
        One entry was not taken
      </span>
    );
  if (waiting > 0)
    return (
      <span className={classes.saved} data-waits="true" role="status">
        {keeps
          ? waiting === 1
            ? '1 entry is kept here and waits'
            : `${waiting} entries are kept here and wait`
          : `${waiting === 1 ? '1 entry waits' : `${waiting} entries wait`}, and this browser keeps nothing: leave this page open`}
        {trouble ? `. ${trouble}.` : ''}
      </span>
    );
  if (!keeps)
    return (
      <span className={classes.saved} data-waits="true" role="status">
        This browser keeps nothing: what is entered without a connection lasts as long as this page
      </span>
    );
  if (kept)
    return (
      <span className={classes.saved} data-waits="true" role="status">
        No connection: as last seen
      </span>
    );
  if (!savedAt) return <span className={classes.saved}>all saved</span>;
  const seconds = Math.max(0, Math.round((now - savedAt) / 1000));
  return (
    <span className={classes.saved}>saved {seconds < 90 ? `${seconds} s` : `${Math.round(seconds / 60)} min`} ago</span>
  );
}
