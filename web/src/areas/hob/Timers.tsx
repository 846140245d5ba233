import { Button } from '@mantine/core';
import type { SheetReport, SheetStep, What } from '../../api/types';
import { countdown } from '../../lib/format';
import type { Ask } from './ask';
import classes from './hob.module.css';

interface TimersProps {
  sheet: SheetReport;
  step: SheetStep | undefined;
  now: number;
  mayEnter: boolean;
  enter: (what: What) => void;
  ask: (ask: Ask) => void;
}

/** Every timer that runs on this batch, whichever tablet set it. */
export function Timers({ sheet, step, now, mayEnter, enter, ask }: TimersProps) {
  return (
    <>
      {sheet.timers.map((timer) => {
        const left = Date.parse(timer.due_at) - now;
        return (
          <div
            key={timer.timer}
            className={classes.pill}
            role="timer"
            aria-label={timer.title}
            data-over={left < 0 || undefined}
          >
            <span>
              {timer.title}
              {left < 0 && ': time is up'}
            </span>
            <strong>{countdown(left)}</strong>
            {mayEnter && (
              <Button
                variant="default"
                h={48}
                onClick={() => enter({ kind: 'timer_off', timer: timer.timer })}
                aria-label={`Turn off ${timer.title}`}
              >
                Off
              </Button>
            )}
          </div>
        );
      })}
      {mayEnter && (
        <button type="button" className={classes.pill} onClick={() => ask(setting(step, enter))}>
          Set a timer
        </button>
      )}
    </>
  );
}

function setting(step: SheetStep | undefined, enter: (what: What) => void): Ask {
  const title = step?.name ?? 'Timer';
  const likely = step && step.waits ? Math.max(1, Math.round(step.duration.low_s / 60)) : null;
  return {
    title: `A timer for ${title}`,
    label: 'Minutes',
    unit: 'min',
    quick: [1, 3, 5, 10, 20].map((minutes) => ({ words: `${minutes} min`, value: minutes })),
    ...(likely ? { asked: { words: `${likely} min: the least it takes`, value: likely } } : {}),
    keep: (value) => `Start ${value} min`,
    least: 0.1,
    most: 7 * 24 * 60,
    onKeep: (value) =>
      enter({
        kind: 'timer',
        timer: `t-${crypto.randomUUID().slice(0, 8)}`,
        title,
        seconds: value * 60,
        stage: step?.id ?? null,
      }),
  };
}
