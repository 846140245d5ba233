import { VisuallyHidden } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useId } from 'react';
import { answer, client } from '../../api/client';
import { keys } from '../../api/queries';
import type { MakeOrBuyReport } from '../../api/types';
import { figure } from '../../lib/format';
import { useMoney } from '../../lib/useMoney';
import { Notice } from '../../parts/Notice';
import { useWidth } from '../../parts/useWidth';
import classes from './Costs.module.css';

interface MakeOrBuyProps {
  formula: string;
  dose_g: number;
  benchmark: string;
  dose: number;
  ours: string;
  bought: string;
}

/** Make or buy: what a dose costs over the size of the batch, and from where on making pays. */
export function MakeOrBuy({ ours, bought, ...asked }: MakeOrBuyProps) {
  const [later] = useDebouncedValue(asked, 300);
  const found = useQuery({
    queryKey: [...keys.money, 'make or buy', later.formula, later.dose_g, later.benchmark, later.dose],
    queryFn: ({ signal }) => answer(client.POST('/api/v1/money/make-or-buy', { body: later, signal })),
    retry: false,
    placeholderData: keepPreviousData,
  });
  return (
    <section aria-label="Make or buy">
      <h3>
        Make {ours} or buy {bought}?
      </h3>
      {found.isPending && <p className={classes.quiet}>Walking it at every size …</p>}
      {found.isError && <Notice tone="stop" text={found.error.message} />}
      {found.data && (
        <>
          {found.data.words.map((words) => (
            <p key={words}>{words}</p>
          ))}
          <Chart report={found.data} bought={bought} />
        </>
      )}
    </section>
  );
}

const HEIGHT = 210;
const PAD = { left: 62, right: 20, top: 14, bottom: 34 };

/** A dose over the batch it comes from: made, with its range, and bought. Batches by how many times larger. */
function Chart({ report, bought }: { report: MakeOrBuyReport; bought: string }) {
  const { ref, width } = useWidth(640);
  const clip = useId();
  const money = useMoney();
  const points = report.points;
  const first = points[0];
  const last = points[points.length - 1];
  if (!first || !last) return null;
  // What a thimbleful costs would flatten the rest.
  const most = Math.min(Math.max(report.bought, report.batch.dose.high) * 2.5, first.dose.high);
  const log = Math.log(last.amount / first.amount);
  const x = (amount: number) => PAD.left + (Math.log(amount / first.amount) / log) * (width - PAD.left - PAD.right);
  const y = (cost: number) => PAD.top + (1 - cost / most) * (HEIGHT - PAD.top - PAD.bottom);
  const ticks = [0, 0.25, 0.5, 0.75, 1].map((share) => share * most);
  return (
    <figure ref={ref} className={classes.chart}>
      <svg width={width} height={HEIGHT} aria-hidden="true">
        {ticks.map((tick) => (
          <g key={tick}>
            <line x1={PAD.left} x2={width - PAD.right} y1={y(tick)} y2={y(tick)} className={classes.grid} />
            <text x={PAD.left - 8} y={y(tick) + 4} textAnchor="end" className={classes.tick}>
              {money(tick, 2)}
            </text>
          </g>
        ))}
        <clipPath id={clip}>
          <rect x={PAD.left} y={PAD.top} width={width - PAD.left - PAD.right} height={HEIGHT - PAD.top - PAD.bottom} />
        </clipPath>
        {points
          .filter((_, at) => at % 2 === 0)
          .map((point) => (
            <text key={point.amount} x={x(point.amount)} y={HEIGHT - 12} textAnchor="middle" className={classes.tick}>
              {figure(point.amount, point.amount < 1 ? 2 : 1)} {report.unit}
            </text>
          ))}
        <polygon
          className={classes.band}
          clipPath={`url(#${clip})`}
          points={[
            ...points.map((p) => `${x(p.amount)},${y(p.dose.low)}`),
            ...[...points].reverse().map((p) => `${x(p.amount)},${y(p.dose.high)}`),
          ].join(' ')}
        />
        <polyline
          className={classes.line}
          clipPath={`url(#${clip})`}
          points={points.map((p) => `${x(p.amount)},${y(p.dose.likely)}`).join(' ')}
        />
        <line
          x1={PAD.left}
          x2={width - PAD.right}
          y1={y(report.bought)}
          y2={y(report.bought)}
          className={classes.bought}
        />
        <text x={width - PAD.right} y={y(report.bought) - 6} textAnchor="end" className={classes.named}>
          {bought}: {money(report.bought, 3)} a dose
        </text>
        <circle cx={x(report.batch.amount)} cy={y(report.batch.dose.likely)} r={5} className={classes.here} />
        {report.pays_from && (
          <circle cx={x(report.pays_from.amount)} cy={y(report.pays_from.dose.likely)} r={5} className={classes.here} />
        )}
      </svg>
      <VisuallyHidden>
        A dose made here costs{' '}
        {points.map((p) => `${money(p.dose.likely, 3)} in a batch of ${figure(p.amount, 2)} ${report.unit}`).join(', ')}
        ; bought it costs {money(report.bought, 3)}.
      </VisuallyHidden>
    </figure>
  );
}
