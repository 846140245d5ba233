import { Button, Modal } from '@mantine/core';
import { useState } from 'react';
import type { CoolingLog, What } from '../../api/types';
import { clock, figure, when } from '../../lib/format';
import { useKept } from '../../lib/useKept';
import { GrowingText } from '../../parts/GrowingText';
import type { Ask } from './ask';
import dialog from './EntryDialog.module.css';
import classes from './hob.module.css';

interface CoolingPanelProps {
  /** The batch it is of: what is typed is kept for it. */
  batch: string;
  log: CoolingLog;
  now: number;
  mayEnter: boolean;
  enter: (what: What) => void;
  ask: (ask: Ask) => void;
}

const STATE = { met: 'in time', open: 'not shown yet', late: 'shown too late', missed: 'not in time' } as const;

/** The way down by the two-stage rule: both marks, what the probe showed of them, and the next entry. */
export function CoolingPanel({ batch, log, now, mayEnter, enter, ask }: CoolingPanelProps) {
  const probe: Ask = {
    title: 'Where it is thickest or deepest',
    label: 'What the probe shows',
    unit: '°C',
    least: -5,
    most: 110,
    hint: 'Cleaned probe, middle of the vessel. The reading is kept with its time.',
    keep: (value) => `Save ${figure(value, 1)} °C`,
    onKeep: (value) => enter({ kind: 'probed', stage: log.stage, temperature_c: value }),
  };
  const [saying, setSaying] = useState(false);
  const past = log.marks.some(
    (mark) => mark.state === 'late' || mark.state === 'missed' || (mark.state === 'open' && Date.parse(mark.by) < now),
  );
  return (
    <section className={classes.panel} aria-label="Cooling log">
      <h2>Cooling log</h2>
      <p className={classes.quiet}>
        {log.hot ? 'Two-stage rule' : 'Never hot: four hours'}, from {when(log.began, new Date(now))}. Your local food
        code decides.
      </p>
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
                {mark.at &&
                  mark.reads_c !== null &&
                  mark.reads_c !== undefined &&
                  ` · ${figure(mark.reads_c, 1)} °C at ${clock(mark.at)}`}
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
      {log.why && <p className={classes.quiet}>Not shown in time: {log.why}</p>}
      {mayEnter && (
        <div className={classes.buttons}>
          <Button variant={log.open ? 'filled' : 'default'} onClick={() => ask(probe)}>
            Probe for the log
          </Button>
          {past && log.open && (
            <Button variant="default" onClick={() => setSaying(true)}>
              Say why not in time
            </Button>
          )}
        </div>
      )}
      <Modal
        opened={saying}
        onClose={() => setSaying(false)}
        title="Why it was not shown cold in time"
        centered
        size={460}
        classNames={{ title: dialog.title }}
        closeButtonProps={{ 'aria-label': 'Cancel', size: 44 }}
      >
        {saying && (
          <WhyNot
            batch={batch}
            last={log.readings[log.readings.length - 1]?.temperature_c ?? 0}
            enter={enter}
            onClose={() => setSaying(false)}
          />
        )}
      </Modal>
    </section>
  );
}

/** A reason, which takes the batch off Today: what became of it belongs in it. */
function WhyNot({
  batch,
  last,
  enter,
  onClose,
}: {
  batch: string;
  last: number;
  enter: (what: What) => void;
  onClose: () => void;
}) {
  const kept = useKept(`hob.${batch}.cooling`, { why: '' });
  const { why } = kept.value;
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        if (!why.trim()) return;
        enter({ kind: 'accepted', about: 'cooling', actual: last, title: 'Cooling', why: why.trim() });
        kept.forget();
        onClose();
      }}
    >
      <GrowingText
        label="What happened, and what became of it"
        description="Thrown away, brought to 74 °C and cooled again, probed and not entered."
        size="lg"
        data-autofocus
        minRows={3}
        maxLength={2000}
        value={why}
        onChange={(event) => kept.set({ why: event.currentTarget.value })}
      />
      <Button type="submit" h={64} fullWidth mt="md" disabled={!why.trim()} fz={18}>
        Save
      </Button>
    </form>
  );
}
