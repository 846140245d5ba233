import { Button } from '@mantine/core';
import type { CoolingLog, What } from '../../api/types';
import { clock, figure, when } from '../../lib/format';
import type { Ask } from './EntryDialog';
import classes from './hob.module.css';

interface CoolingPanelProps {
  log: CoolingLog;
  now: number;
  mayEnter: boolean;
  enter: (what: What) => void;
  ask: (ask: Ask) => void;
}

const STATE = { met: 'in time', open: 'not shown yet', late: 'shown too late', missed: 'not in time' } as const;

/** The way down by the two-stage rule: both marks, what the probe showed of them, and the next entry. */
export function CoolingPanel({ log, now, mayEnter, enter, ask }: CoolingPanelProps) {
  const probe: Ask = {
    title: 'Where it is thickest or deepest',
    label: 'What the probe shows',
    unit: '°C',
    least: -5,
    most: 110,
    hint: 'Cleaned probe, middle of the vessel. The reading is kept with its time.',
    keep: (value) => `Keep ${figure(value, 1)} °C`,
    onKeep: (value) => enter({ kind: 'probed', stage: log.stage, temperature_c: value }),
  };
  return (
    <section className={classes.panel} aria-label="Cooling log">
      <h2>Cooling log</h2>
      <p className={classes.quiet}>Two-stage rule, from {when(log.began, new Date(now))}. Your local food code decides.</p>
      <ul className={classes.marks}>
        {log.marks.map((mark) => {
          const overdue = mark.state === 'open' && Date.parse(mark.by) < now;
          return (
            <li key={mark.at_most_c} data-state={overdue ? 'missed' : mark.state}>
              <strong>
                {figure(mark.at_most_c)} °C by {clock(mark.by)}
              </strong>
              <span>
                {overdue ? 'its time is past: probe it now' : STATE[mark.state]}
                {mark.at && mark.reads_c !== null && mark.reads_c !== undefined && ` · ${figure(mark.reads_c, 1)} °C at ${clock(mark.at)}`}
              </span>
              {(mark.state === 'missed' || mark.state === 'late') && <span>{mark.words}</span>}
            </li>
          );
        })}
      </ul>
      {log.readings.length > 0 && (
        <p className={classes.quiet}>
          Probed: {log.readings.map((each) => `${figure(each.temperature_c, 1)} °C at ${clock(each.at)}`).join(', ')}
        </p>
      )}
      {mayEnter && (
        <div className={classes.buttons}>
          <Button variant={log.open ? 'filled' : 'default'} onClick={() => ask(probe)}>
            Probe for the log
          </Button>
        </div>
      )}
    </section>
  );
}
