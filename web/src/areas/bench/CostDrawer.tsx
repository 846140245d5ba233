import { useDebouncedValue } from '@mantine/hooks';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, client } from '../../api/client';
import type { CostReport, MethodDocument } from '../../api/types';
import { useMoney } from '../../lib/useMoney';
import { Notice } from '../../parts/Notice';
import { NumberField } from '../../parts/NumberField';
import { SideDrawer } from '../../parts/SideDrawer';
import classes from './CostDrawer.module.css';
import { Packs } from './Packs';

interface CostDrawerProps {
  document: MethodDocument;
  /** The formula whose log says what is poured away; nothing of one that was never saved. */
  formula: string | null;
  onClose: () => void;
}

/** So many drivers are told at first: the rest moves little. */
const SHOWN = 8;

/** What a batch, a litre and a dose cost, of what that is made up, and which price or yield drives it. */
export function CostDrawer({ document, formula, onClose }: CostDrawerProps) {
  const [dose, setDose] = useState(20);
  const [asked] = useDebouncedValue(dose, 200);
  const found = useQuery({
    queryKey: ['cost', document, formula, asked],
    queryFn: ({ signal }) =>
      answer(client.POST('/api/v1/cost', { body: { document, formula, dose_g: asked }, signal })),
    retry: false,
    gcTime: 0,
    placeholderData: keepPreviousData,
  });
  return (
    <SideDrawer opened title="What it costs" closeLabel="Close the costs" width={560} onClose={onClose}>
      <NumberField
        shown
        size="md"
        label="A dose is"
        unit="g"
        low={0.1}
        high={100_000}
        value={dose}
        onNumber={setDose}
      />
      {found.isError && <Notice tone="stop" text={found.error.message} />}
      {found.data && <Costs report={found.data} />}
      <Packs document={document} />
    </SideDrawer>
  );
}

function Costs({ report }: { report: CostReport }) {
  const money = useMoney();
  const least = report.missing.length > 0 ? 'at least ' : '';
  const rows = [
    ['A batch', report.batch, 2],
    ['A kilogram', report.per_kg, 2],
    ['A litre', report.per_litre, 2],
    ['A dose', report.per_dose, 3],
  ] as const;
  const from = Math.min(...report.drivers.map((each) => Math.min(each.lower, each.higher)));
  const to = Math.max(...report.drivers.map((each) => Math.max(each.lower, each.higher)));
  const at = (value: number) => `${to > from ? (100 * (value - from)) / (to - from) : 50}%`;
  return (
    <>
      <dl className={classes.sums}>
        {rows.map(
          ([title, span, digits]) =>
            span && (
              <div key={title}>
                <dt>{title}</dt>
                <dd>
                  {least}
                  {money(span.likely, digits)}
                  {span.high - span.low >= 10 ** -digits && (
                    <span className={classes.small}>
                      {' '}
                      ({money(span.low, digits)} to {money(span.high, digits)})
                    </span>
                  )}
                </dd>
              </div>
            ),
        )}
      </dl>
      {report.missing.map((words) => (
        <Notice key={words} tone="look" text={`Not in it: ${words}`} />
      ))}
      <h3>What a batch is made up of</h3>
      <table className={classes.table}>
        <tbody>
          {report.items.map((item) => (
            <tr key={item.id}>
              <th scope="row">
                {item.title}
                <span className={classes.how}>{item.how}</span>
              </th>
              <td>
                {item.likely === null ? 'not known' : money(item.likely)}
                {item.low !== null && item.high !== null && item.high - item.low >= 0.01 && (
                  <span className={classes.how}>
                    {money(item.low)} to {money(item.high)}
                  </span>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {report.drivers.length > 0 && (
        <>
          <h3>What drives it</h3>
          <p className={classes.small}>
            {report.per_litre ? 'A litre' : 'A kilogram'} with each a fifth lower and a fifth higher, the furthest
            first.
          </p>
          <ul className={classes.drivers}>
            {report.drivers.slice(0, SHOWN).map((driver) => (
              <li key={driver.title}>
                <span>{driver.title}</span>
                <span
                  className={classes.bar}
                  role="img"
                  aria-label={`${driver.title}: ${money(driver.lower)} to ${money(driver.higher)}`}
                >
                  <span
                    style={{
                      left: at(Math.min(driver.lower, driver.higher)),
                      right: `calc(100% - ${at(Math.max(driver.lower, driver.higher))})`,
                    }}
                  />
                </span>
                <span className={classes.small}>
                  {money(driver.lower)} → {money(driver.higher)}
                </span>
              </li>
            ))}
          </ul>
        </>
      )}
    </>
  );
}
