import { useState } from 'react';
import type { WalkReport } from '../../api/types';
import { figure, fromTo } from '../../lib/format';
import { ReadingRow } from '../../parts/ReadingRow';
import classes from './BenchScreen.module.css';
import type { Asked } from './WaysDrawer';

/** The readings by group, each open to its working: one at a time. */
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
  const groups = [...new Set(report.readings.map((reading) => reading.group))];
  return groups.map((group) => (
    <section key={group} aria-label={group}>
      <h3 className={classes.group}>{group}</h3>
      <ul className={classes.readings}>
        {report.readings
          .filter((reading) => reading.group === group)
          .map((reading) => (
            <ReadingRow
              key={reading.id}
              reading={reading}
              held={held.includes(reading.id)}
              onHold={() => onHold(reading.id)}
              open={open === reading.id}
              onToggle={() => setOpen(open === reading.id ? null : reading.id)}
              onAsk={(value) => onAsk({ reading: reading.id, title: reading.title, unit: reading.unit, value })}
              more={moreOf(reading.id, report)}
            />
          ))}
      </ul>
    </section>
  ));
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
