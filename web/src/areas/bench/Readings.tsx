import { useQuery } from '@tanstack/react-query';
import { type ReactNode, useState } from 'react';
import { businessQuery } from '../../api/queries';
import type { ReadingReport, WalkReport } from '../../api/types';
import { figure, fromTo } from '../../lib/format';
import { readStored, writeStored } from '../../lib/stored';
import { ReadingRow } from '../../parts/ReadingRow';
import classes from './BenchScreen.module.css';
import type { Asked } from './WaysDrawer';

/** The readings: those that decide for this family first, the rest under their heads; each opens to its working, one at a time. */
export function Readings({
  report,
  held,
  onHold,
  onAsk,
}: {
  report: WalkReport;
  held: string[];
  onHold: (id: string) => void;
  onAsk: (asked: Asked) => void;
}) {
  const [open, setOpen] = useState<string | null>(null);
  const currency = useQuery(businessQuery).data?.business.currency ?? '';
  const decides = new Set([
    ...report.readings.filter((reading) => reading.group === FIRST).map((reading) => reading.id),
    ...(report.family?.windows.map((window) => window.reading) ?? []),
  ]);
  const row = (reading: ReadingReport) => (
    <ReadingRow
      key={reading.id}
      reading={reading}
      held={held.includes(reading.id)}
      onHold={() => onHold(reading.id)}
      open={open === reading.id}
      onToggle={() => setOpen(open === reading.id ? null : reading.id)}
      onAsk={(value) => onAsk({ reading: reading.id, title: reading.title, unit: reading.unit, value })}
      more={moreOf(reading.id, report)}
      currency={currency}
    />
  );
  const rest = report.readings.filter((reading) => !decides.has(reading.id));
  const groups = [...new Set(rest.map((reading) => reading.group))];
  return (
    <>
      <ul className={classes.readings} aria-label="What decides">
        {report.readings.filter((reading) => decides.has(reading.id)).map(row)}
      </ul>
      {groups.map((group) => {
        const own = rest.filter((reading) => reading.group === group);
        return (
          <Group key={group} title={group} held={own.some((reading) => held.includes(reading.id))}>
            {own.map(row)}
          </Group>
        );
      })}
    </>
  );
}

/** The heading of what decides for every product. */
const FIRST = 'At a glance';

/** Readings under their head, which opens to them and stays open on this browser. */
function Group({ title, held, children }: { title: string; held: boolean; children: ReactNode }) {
  const key = `oakenjug.readings.${title}`;
  const [shown, setShown] = useState(() => readStored<{ open: boolean }>(key)?.open ?? false);
  return (
    <details
      className={classes.group}
      open={shown || held}
      onToggle={(event) => {
        setShown(event.currentTarget.open);
        writeStored(key, event.currentTarget.open ? { open: true } : null);
      }}
    >
      <summary>{title}</summary>
      <ul className={classes.readings} aria-label={title}>
        {children}
      </ul>
    </details>
  );
}

/** More of a reading's working than every reading has: where such things usually stand, thickness over temperature. */
function moreOf(reading: string, report: WalkReport) {
  const usual = report.family?.windows.find((each) => each.reading === reading);
  const thick = reading === 'viscosity' && report.thickness.length > 0;
  if (!usual && !thick) return undefined;
  return (
    <>
      {usual && (
        <p>
          {report.family!.title[0]!.toUpperCase() + report.family!.title.slice(1)} usually has{' '}
          {fromTo(usual.low, usual.high, usual.low % 1 || usual.high % 1 ? 1 : 0)}: {usual.words}.
        </p>
      )}
      {thick && <Thickness points={report.thickness} />}
    </>
  );
}

/** Thickness over temperature, for whoever fills hot and pours cold. */
function Thickness({ points }: { points: WalkReport['thickness'] }) {
  const shown = (value: number) => figure(Number(value.toPrecision(2)), value < 10 ? 1 : 0);
  return (
    <table className={classes.curve}>
      <caption>Over temperature, mPa·s</caption>
      <tbody>
        {points.map((point) => (
          <tr key={point.temperature_c}>
            <th scope="row">{figure(point.temperature_c)} °C</th>
            <td>{shown(point.value)}</td>
            <td>{shown(point.low) === shown(point.high) ? '' : `${shown(point.low)}–${shown(point.high)}`}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
