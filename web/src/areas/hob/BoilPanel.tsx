import { Button } from '@mantine/core';
import type { BatchOut, SheetBoil, SheetStep, What } from '../../api/types';
import { asEntered, clock, clockSpan, countdown, figure, range, span } from '../../lib/format';
import { BigFigure } from '../../parts/BigFigure';
import { Notice } from '../../parts/Notice';
import { PotTrace } from '../../parts/PotTrace';
import type { Ask, Tare } from './ask';
import classes from './hob.module.css';

interface BoilPanelProps {
  /** Whether it is the step that is now: else nothing moves on. */
  isNow: boolean;
  step: SheetStep;
  boil: SheetBoil;
  /** Pots of the kitchen: it may be boiled in another than was meant. */
  pots: Tare[];
  now: number;
  mayEnter: boolean;
  enter: (what: What) => void;
  ask: (ask: Ask) => void;
}

/** A boil on the hob: the weight stops it, the probe only warns. */
export function BoilPanel({ isNow, step, boil, pots, now, mayEnter, enter, ask }: BoilPanelProps) {
  const last = boil.weighings[boil.weighings.length - 1];
  const toGo = Math.round(boil.to_go_g);
  const past = toGo < 0;
  const { probe } = boil;
  const timed = boil.for_min !== null && boil.for_min !== undefined;
  const lift = boil.lift_weigh_at !== null && toGo > 0 && Date.parse(boil.lift_weigh_at) <= now;
  return (
    <>
      <div className={`${classes.lead} ${classes.stays}`}>
        {timed ? (
          <TimeLeft boil={boil} now={now} />
        ) : (
          <BigFigure
            huge
            label={past ? 'grams past the stop' : 'grams to go'}
            value={figure(Math.abs(toGo))}
            unit="g"
            kind={boil.by_weighing ? 'weighed' : 'computed'}
            tone={past ? 'stop' : undefined}
            note={`stop at ${figure(boil.stop_reads_g)} g with the pot · ${range(boil.near_low_g, boil.near_high_g)} g is within half a °Bx`}
          />
        )}
        <BigFigure
          label="pot now"
          value={last ? asEntered(last.reads_g, 0) : '—'}
          unit="g"
          kind={last ? 'weighed' : 'asked'}
          note={
            last
              ? `weighed ${since(last.at, now)}`
              : timed
                ? `likely ${figure(boil.stop_reads_g)} g then; the time decides`
                : `begins at ${figure(boil.starts_reads_g)} g`
          }
        >
          {mayEnter && (
            <Button
              variant={!timed && (lift || !last) ? 'filled' : 'default'}
              onClick={() => ask(potWeighing(step, boil, pots, enter, isNow))}
            >
              Weigh the pot
            </Button>
          )}
        </BigFigure>
        <BigFigure
          label="probe"
          value={probe ? figure(probe.temperature_c, 1) : '—'}
          unit="°C"
          kind={probe ? 'measured' : 'asked'}
          note={
            timed ? (
              <>boils at about {figure(boil.first_boil_c ?? boil.probe_c, 1)} °C here</>
            ) : (
              <>
                guide: {figure(boil.probe_c, 1)} °C at the stop
                {boil.probe_doubt_brix !== null && `, ± ½ °C is ${figure(boil.probe_doubt_brix, 1)} °Bx`}
              </>
            )
          }
        >
          {mayEnter && (
            <Button variant="default" onClick={() => ask(probing(step, enter))}>
              Probe
            </Button>
          )}
        </BigFigure>
      </div>
      {!timed && <LiftWeigh boil={boil} now={now} />}
      {boil.impossible && <Notice tone="stop" text={boil.impossible} />}
      {boil.probe_warns && (
        <Notice tone="look" text="The probe is as high as at the stop. It is only a guide: weigh the pot now." />
      )}
      {!boil.fits_scale && (
        <Notice
          tone="look"
          text="The pot with what is in it is more than any scale here carries. Weigh it in two vessels, or split the cook."
        />
      )}
      {(!timed || boil.weighings.length > 0) && (
        <div className={classes.panel}>
          <PotTrace
            weighings={boil.weighings}
            course={boil.course}
            stop_g={boil.stop_reads_g}
            starts_g={boil.starts_reads_g}
            began_at={boil.began_at}
            now={now}
          />
        </div>
      )}
    </>
  );
}

/** How long it still has to boil: the clock stops it, not the weight. */
function TimeLeft({ boil, now }: { boil: SheetBoil; now: number }) {
  const left = boil.due_at ? Date.parse(boil.due_at) - now : null;
  const minutes = 60 * (boil.for_min ?? 0);
  return (
    <BigFigure
      huge
      label={left === null ? 'boil it for' : left > 0 ? 'still to boil' : 'boiled long enough, by'}
      value={left === null ? span(minutes, minutes) : countdown(Math.abs(left))}
      unit=""
      kind="asked"
      note={boil.due_at ? `until ${clock(boil.due_at)}: probe it when it boils` : 'timed from when it boils'}
    />
  );
}

/** When it is ready, how strong it is by weight, and what the refractometer says to that. */
export function BoilFacts({
  batch,
  step,
  boil,
  now,
  mayEnter,
  enter,
  ask,
}: Omit<BoilPanelProps, 'pots' | 'isNow'> & { batch: BatchOut }) {
  const past = Math.round(boil.to_go_g) < 0;
  const late = !past && boil.ready_high !== null && Date.parse(boil.ready_high) < now;
  const { drop } = boil;
  const timed = boil.for_min !== null && boil.for_min !== undefined;
  const before = lastTime(batch, step);
  return (
    <div className={classes.row}>
      {!timed && (
        <div className={classes.pill}>
          <span>{past ? 'ready' : late ? 'should be ready: weigh it' : boil.ready_low ? 'ready about' : 'takes'}</span>
          <strong>
            {past
              ? 'now'
              : boil.ready_low && boil.ready_high
                ? clockSpan(boil.ready_low, boil.ready_high)
                : span(boil.heat_up.low_s + boil.boil.low_s, boil.heat_up.high_s + boil.boil.high_s)}
          </strong>
          {before && <span className={classes.wholeLine}>{before}</span>}
        </div>
      )}
      <div className={classes.pill} data-kind="computed">
        <span>by weight, not measured</span>
        <strong>
          {boil.brix_now === null ? '—' : figure(boil.brix_now, 1)}
          <span className={classes.unit}> °Bx</span>
        </strong>
        {boil.brix_at_stop != null && (
          <span className={classes.wholeLine}>target {figure(boil.brix_at_stop, 1)} °Bx</span>
        )}
      </div>
      <div className={`${classes.pill} ${classes.whole}`} data-kind={drop ? 'measured' : undefined}>
        <span>{drop ? `refractometer, at ${clock(drop.at)}` : 'refractometer'}</span>
        {drop && (
          <strong>
            {figure(drop.brix, 1)}
            <span className={classes.unit}> °Bx</span>
          </strong>
        )}
        {mayEnter && (
          <Button variant="default" h={48} onClick={() => ask(refractometer(step, enter))}>
            {drop ? 'Again' : 'A drop on the glass'}
          </Button>
        )}
      </div>
    </div>
  );
}

/** How long it took the last time, and of how much, beside what is expected now. */
function lastTime(batch: BatchOut, step: SheetStep): string | null {
  const before = batch.last_time;
  const minutes = before?.minutes[step.id];
  if (!before || minutes === undefined) return null;
  const times =
    before.times == null || Math.abs(before.times - 1) < 0.005 ? '' : `, ${figure(before.times, 2)} × as much`;
  return `last time ${span(60 * minutes, 60 * minutes)} (batch ${String(before.number).padStart(4, '0')}${times})`;
}

/** From when on to weigh again; nothing before it is time. */
function LiftWeigh({ boil, now }: { boil: SheetBoil; now: number }) {
  if (!boil.lift_weigh_at || boil.to_go_g <= 0) return null;
  const due = Date.parse(boil.lift_weigh_at) <= now;
  if (!due) return <p className={classes.quiet}>Put the pot on the scale from about {clock(boil.lift_weigh_at)} on.</p>;
  return (
    <Notice tone="look" text="It may be near. Lift the pot onto the scale, enter what it shows, and put it back." />
  );
}

/** Whether it is time to take it off: the pot weighs what it should, or less; of what is boiled for a time, that has passed. */
export function isTime(boil: SheetBoil, now: number): boolean {
  if (boil.for_min !== null && boil.for_min !== undefined) return boil.due_at != null && Date.parse(boil.due_at) <= now;
  const last = boil.weighings[boil.weighings.length - 1];
  return last !== undefined && !boil.impossible && last.reads_g <= boil.near_high_g;
}

function since(at: string, now: number): string {
  const seconds = Math.max(0, Math.round((now - Date.parse(at)) / 1000));
  return seconds < 90 ? `${seconds} s ago` : `${Math.round(seconds / 60)} min ago`;
}

export function potWeighing(
  step: SheetStep,
  boil: SheetBoil,
  pots: Tare[],
  enter: (what: What) => void,
  isNow: boolean,
): Ask {
  const timed = boil.for_min != null;
  return {
    title: `${boil.pot_name} on the scale`,
    label: 'What the scale shows',
    unit: 'g',
    tares: [
      { title: boil.pot_name, grams: boil.pot_tare_g },
      ...pots.filter((pot) => pot.grams !== boil.pot_tare_g),
      { title: 'Nothing: tared with another like it', grams: 0 },
    ],
    remember: `boil.${step.id}`,
    // The commonest weighing of all: it shows the stop, and with that it comes off.
    ...(isNow && !timed
      ? {
          asked: {
            words: `It shows ${figure(boil.stop_reads_g)} g: off the heat`,
            value: Math.round(boil.stop_reads_g),
            onlyWith: boil.pot_tare_g,
            then: () => enter({ kind: 'done', stage: step.id }),
          },
        }
      : {}),
    hint: `Stop at ${figure(boil.stop_reads_g)} g. Lift it, wait until the scale is still, enter what it shows.`,
    keep: (value) => `Save ${asEntered(value, 0)} g`,
    onKeep: (value, tare) => enter({ kind: 'pot_weighed', stage: step.id, reads_g: value, tare_g: tare }),
  };
}

/** An instrument that corrects for temperature by itself, among the drop's temperatures. */
const ITSELF = -1;

export function refractometer(step: SheetStep, enter: (what: What) => void): Ask {
  return {
    title: 'What the refractometer shows',
    label: 'What the refractometer shows',
    unit: '°Bx',
    hint: 'A clear drop, left on the glass for half a minute. Spice and pulp cloud it.',
    beside: {
      legend: 'The drop on the glass',
      options: [
        ...[20, 25, 30, 40].map((degrees) => ({ title: `${degrees} °C`, value: degrees })),
        { title: 'It corrects itself', value: ITSELF },
      ],
    },
    keep: (value) => `Save ${figure(value, 1)} °Bx`,
    most: 95,
    onKeep: (value, _tare, drop) =>
      enter({
        kind: 'refracted',
        stage: step.id,
        reading_brix: value,
        sample_c: drop === ITSELF ? 20 : drop,
        corrects_itself: drop === ITSELF,
      }),
  };
}

export function probing(step: SheetStep, enter: (what: What) => void): Ask {
  return {
    title: 'What the probe shows',
    label: 'What the probe shows',
    unit: '°C',
    hint: 'In the middle, not on the bottom.',
    keep: (value) => `Save ${figure(value, 1)} °C`,
    least: -30,
    most: 250,
    onKeep: (value) => enter({ kind: 'probed', stage: step.id, temperature_c: value }),
  };
}
