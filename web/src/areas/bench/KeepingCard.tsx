import { NativeSelect } from '@mantine/core';
import { useState } from 'react';
import type { KeepingDoc, KeepingReport } from '../../api/types';
import { figure, fromTo } from '../../lib/format';
import { Card } from '../../parts/Card';
import classes from './KeepingCard.module.css';
import { NumberField } from '../../parts/NumberField';

interface KeepingCardProps {
  report: KeepingReport;
  told: KeepingDoc | null | undefined;
  readOnly: boolean;
  onTell: (told: KeepingDoc) => void;
}

const ANSWERS = [
  { value: '', label: 'not answered' },
  { value: 'yes', label: 'yes' },
  { value: 'no', label: 'no' },
];
const asValue = (answer: boolean | null | undefined) =>
  answer === null || answer === undefined ? '' : answer ? 'yes' : 'no';
const asAnswer = (value: string) => (value === '' ? null : value === 'yes');

/** What may be said of keeping, what must be answered first, and what decides the days. */
export function KeepingCard({ report, told, readOnly, onTell }: KeepingCardProps) {
  // What fell stays fallen, and what is answered now rests on what stands now.
  const gone = (answer: 'heat_treated' | 'packaged' | 'ph') => report.fallen.includes(answer);
  const stands: KeepingDoc = {
    heat_treated: gone('heat_treated') ? null : (told?.heat_treated ?? null),
    packaged: gone('packaged') ? null : (told?.packaged ?? null),
    ph: gone('ph') ? null : (told?.ph ?? null),
    opened_days: told?.opened_days ?? null,
  };
  const put = (change: Partial<KeepingDoc>) => onTell({ ...stands, ...change, rests_on: report.rests_on });
  const [opened, setOpened] = useState(false);
  const asked = (code: string) => report.questions.some((question) => question.code.startsWith(code)) || undefined;
  return (
    <Card
      title="Keeping"
      aside={
        report.days === null || report.days === undefined
          ? undefined
          : `${report.days} ${report.days === 1 ? 'day' : 'days'}`
      }
      className={classes.card}
    >
      <p data-tone={report.verdict === 'ask' ? 'look' : undefined} className={classes.words}>
        {report.verdict === 'ask' && <strong>Note: </strong>}
        {report.words}
      </p>
      {!report.dry && (
        <details className={classes.fold} open={opened} onToggle={(event) => setOpened(event.currentTarget.open)}>
          <summary>
            {report.questions.length > 0
              ? `Answer ${report.questions.length === 1 ? 'one question' : `${report.questions.length} questions`}`
              : 'Heat, packaging and pH'}
          </summary>
          <div className={classes.answers}>
            <NativeSelect
              size="sm"
              label="All of it at 72 °C or more, nothing in after"
              description={report.heated_words}
              data={ANSWERS}
              value={asValue(stands.heat_treated)}
              disabled={readOnly}
              data-asked={asked('heat')}
              onChange={(event) => put({ heat_treated: asAnswer(event.currentTarget.value) })}
            />
            <NativeSelect
              size="sm"
              label="Filled and closed at once after the heat"
              description="So that nothing gets in any more."
              data={ANSWERS}
              value={asValue(stands.packaged)}
              disabled={readOnly}
              data-asked={asked('packaging')}
              onChange={(event) => put({ packaged: asAnswer(event.currentTarget.value) })}
            />
            <div data-asked={asked('ph')}>
              <NumberField
                shown
                label="pH, measured"
                value={stands.ph ?? null}
                unit="pH"
                placeholder={
                  report.ph_low != null && report.ph_high != null
                    ? `calculated ${fromTo(report.ph_low, report.ph_high, 1)}`
                    : 'not measured'
                }
                readOnly={readOnly}
                onNumber={(ph) => put({ ph })}
                onClear={() => put({ ph: null })}
              />
              <p className={classes.small}>With a meter that was just calibrated.</p>
            </div>
            <div>
              <NumberField
                shown
                whole
                label="Keeps once opened"
                value={stands.opened_days ?? null}
                unit="days"
                low={1}
                high={365}
                placeholder="as long as closed"
                readOnly={readOnly}
                onNumber={(opened_days) => put({ opened_days })}
                onClear={() => put({ opened_days: null })}
              />
              <p className={classes.small}>The day of opening counts. Never past its own last day.</p>
            </div>
          </div>
          {report.questions.length > 0 && (
            <ul className={classes.questions}>
              {report.questions.map((question) => (
                <li key={question.code}>{question.words}</li>
              ))}
            </ul>
          )}
        </details>
      )}
      {report.fallen_words && (
        <p data-tone="look" className={classes.words}>
          <strong>Note: </strong>
          {report.fallen_words}
        </p>
      )}
      {report.between_words && (
        <p data-tone={report.between_stop ? 'stop' : 'look'} className={classes.words}>
          <strong>{report.between_stop ? 'Warning: ' : 'Note: '}</strong>
          {report.between_words}
        </p>
      )}
      {report.cooling && (
        <p
          data-tone={(report.cooling.middle ?? 'yes') === 'yes' && report.cooling.cold === 'yes' ? undefined : 'look'}
          className={classes.words}
        >
          {report.cooling.words}
        </p>
      )}
      {report.limits.length > 0 && (
        <ul className={classes.limits}>
          {report.limits.map((limit) => (
            <li key={limit.title} data-decides={limit.decides || undefined}>
              <span>
                {limit.title}
                {limit.decides && ': decides'}
              </span>
              <strong>{figure(limit.days)} d</strong>
              {limit.decides && <small>{limit.extends}</small>}
            </li>
          ))}
        </ul>
      )}
      <details className={classes.small}>
        <summary>Working</summary>
        <p>
          {report.because} FDA Food Code 2022, 1-201.10 and 3-501.17; what asks for product assessment there counts as
          held cold here.
        </p>
      </details>
    </Card>
  );
}
