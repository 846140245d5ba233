import { Button } from '@mantine/core';
import type { SheetHold, SheetReport, SheetStep, What } from '../../api/types';
import { clock, countdown, figure, fromTo, range, span } from '../../lib/format';
import { BigFigure } from '../../parts/BigFigure';
import { Notice } from '../../parts/Notice';
import { probing } from './BoilPanel';
import type { Ask } from './ask';
import classes from './hob.module.css';
import { StepButton } from './StepButton';

interface PanelProps {
  step: SheetStep;
  now: number;
  mayEnter: boolean;
  enter: (what: What) => void;
  ask: (ask: Ask) => void;
}

/** A time to keep: how long is left, how warm it is to be, and what comes of it. */
export function HoldPanel({ step, hold, now, mayEnter, enter, ask }: PanelProps & { hold: SheetHold }) {
  const left = hold.due_at ? Date.parse(hold.due_at) - now : null;
  const window =
    hold.window_low_c != null && hold.window_high_c != null
      ? `works at ${fromTo(hold.window_low_c, hold.window_high_c)} °C`
      : `ends at ${fromTo(hold.ends_low_c, hold.ends_high_c)} °C`;
  return (
    <>
      <div className={classes.figures}>
        <BigFigure
          huge
          label={left === null ? 'keep it' : left > 0 ? 'left' : 'over by'}
          value={left === null ? span(60 * hold.for_min, 60 * hold.for_min) : countdown(Math.abs(left))}
          tone={hold.off === 'cold' || hold.off === 'hot' ? 'stop' : undefined}
          unit=""
          kind="asked"
          note={hold.due_at ? `until ${clock(hold.due_at)}, ${hold.where}` : hold.where}
        />
        <BigFigure
          label="probe"
          value={hold.probe ? figure(hold.probe.temperature_c, 1) : '—'}
          unit="°C"
          kind={hold.probe ? 'measured' : 'asked'}
          note={
            hold.probe ? `at ${clock(hold.probe.at)}, ${window}` : `starts at ${figure(hold.starts_c)} °C, ${window}`
          }
        >
          {mayEnter && (
            <Button variant="default" onClick={() => ask(probing(step, enter))}>
              Probe
            </Button>
          )}
        </BigFigure>
      </div>
      {hold.off_words && <Notice tone={hold.off === 'short' ? 'look' : 'stop'} text={hold.off_words} />}
      {hold.words && !hold.off_words && <p className={classes.panel}>{hold.words}</p>}
    </>
  );
}

/** What a foam is to look like, and how long it takes. */
export function FoamPanel({ foam }: { foam: NonNullable<SheetStep['foam']> }) {
  return (
    <>
      <div className={classes.figures}>
        <BigFigure
          huge
          label={`with ${foam.tool}`}
          value={
            foam.needs_low_s === foam.needs_high_s
              ? figure(foam.needs_low_s)
              : range(foam.needs_low_s, foam.needs_high_s)
          }
          unit="s"
          kind="computed"
          note="until it does, by eye"
        />
        <BigFigure
          label="comes to"
          value={range(foam.foam_ml.low, foam.foam_ml.high)}
          unit="ml"
          kind="computed"
          note={`from ${figure(foam.liquid_ml)} ml: leave that room`}
        />
      </div>
      <p className={classes.panel}>
        {foam.words[0]!.toUpperCase() + foam.words.slice(1)}. {foam.why} It {foam.floats}.
        {foam.stages.length > 0 && ` At full speed ${foam.stages.join(', ')}; 20 s either way.`}
      </p>
    </>
  );
}

/** The colour to stop at. */
export function CaramelPanel({ caramel }: { caramel: NonNullable<SheetStep['caramel']> }) {
  return (
    <p className={classes.panel}>
      Stop at {caramel.colour}: {caramel.colours} as pots and probes differ. The climb takes{' '}
      {span(caramel.climb_low_s, caramel.climb_high_s)}, and the last of it is quick.
    </p>
  );
}

interface PressProps {
  step: SheetStep;
  hold: SheetHold;
  timers: SheetReport['timers'];
  now: number;
  enter: (what: What) => void;
}

/** Begins a hold and its timer with one press; afterwards says how long it stood. */
export function HoldPress({ step, hold, timers, now, enter }: PressProps) {
  if (!step.begun_at) {
    const begin = () => {
      enter({ kind: 'began', stage: step.id });
      enter({
        kind: 'timer',
        timer: `t-${crypto.randomUUID().slice(0, 8)}`,
        title: step.name,
        seconds: 60 * hold.for_min,
        stage: step.id,
      });
    };
    return (
      <StepButton means={`begin ${step.id}`} onPress={begin}>
        It stands now: begin {span(60 * hold.for_min, 60 * hold.for_min)}
      </StepButton>
    );
  }
  const stood = Math.max(0, now - Date.parse(step.begun_at)) / 1000;
  // Too cold or too hot its time does not count: it is not over, however long it stood.
  const over = hold.due_at != null && now >= Date.parse(hold.due_at);
  const done = () => {
    // What was timed is over: nothing rings for it any more.
    for (const timer of timers.filter((each) => each.stage === step.id))
      enter({ kind: 'timer_off', timer: timer.timer });
    enter({ kind: 'done', stage: step.id });
  };
  return (
    <StepButton means={`end ${step.id}`} variant={over ? 'filled' : 'default'} onPress={done}>
      {over
        ? 'It has stood long enough, go on'
        : hold.held_min != null && hold.off
          ? `Continue anyway: ${span(60 * hold.held_min, 60 * hold.held_min)} counted`
          : `Go on after ${span(stood, stood)}`}
    </StepButton>
  );
}
