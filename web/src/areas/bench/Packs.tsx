import { useDebouncedValue } from '@mantine/hooks';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { answer, client } from '../../api/client';
import { keys } from '../../api/queries';
import type { MethodDocument, PurchasesReport } from '../../api/types';
import { figure, grams } from '../../lib/format';
import { useMoney } from '../../lib/useMoney';
import { Notice } from '../../parts/Notice';
import { NumberField } from '../../parts/NumberField';
import classes from './CostDrawer.module.css';

const KEEPS = { yes: 'keeps', no: 'does not keep', ask: 'ask', 'none left': '' } as const;

/** What to buy for a batch in whole packs, what is left over, and whether that keeps. */
export function Packs({ document }: { document: MethodDocument }) {
  const [again, setAgain] = useState(7);
  const [asked] = useDebouncedValue(again, 200);
  const found = useQuery({
    queryKey: [...keys.money, 'packs', document, asked],
    queryFn: ({ signal }) =>
      answer(client.POST('/api/v1/money/packs', { body: { document, again_in_days: asked }, signal })),
    retry: false,
    gcTime: 0,
    placeholderData: keepPreviousData,
  });
  return (
    <section aria-label="What to buy for a batch">
      <h3>What to buy for a batch</h3>
      {found.isError && <Notice tone="stop" text={found.error.message} />}
      {found.data && found.data.purchases.length > 0 && (
        <>
          <NumberField
            shown
            size="md"
            label="Made again in"
            unit="days"
            low={1}
            high={365}
            whole
            value={again}
            onNumber={setAgain}
          />
          <Purchases report={found.data} />
        </>
      )}
      {found.data?.purchases.length === 0 && <p className={classes.small}>Nothing of it is bought.</p>}
    </section>
  );
}

function Purchases({ report }: { report: PurchasesReport }) {
  const money = useMoney();
  return (
    <>
      <table className={classes.table}>
        <tbody>
          {report.purchases.map((each) => (
            <tr key={each.substance}>
              <th scope="row">
                {each.title}
                <span className={classes.how}>
                  {grams(each.needs_g)} g
                  {each.packs.length > 0 &&
                    `: ${each.packs.map((one) => `${one.count} × ${one.name}, ${grams(one.mass_g)} g`).join(' and ')}`}
                </span>
                {each.left_g > 0 && (
                  <span className={classes.how}>
                    {grams(each.left_g)} g left: {each.keeps === 'no' ? <strong>{KEEPS.no}</strong> : KEEPS[each.keeps]}
                    . {each.why}
                  </span>
                )}
                {each.price === null && (
                  <span className={classes.how}>
                    No pack of it is entered: <Link to="/pantry/prices">Prices</Link>.
                  </span>
                )}
              </th>
              <td>{each.price === null ? '—' : money(each.price)}</td>
            </tr>
          ))}
        </tbody>
        <tfoot>
          <tr>
            <th scope="row">
              All packs{report.not_priced.length > 0 && `, ${report.not_priced.length} without a price left out`}
              <span className={classes.how}>{money(report.used)} of it goes into the batch.</span>
            </th>
            <td>
              {report.not_priced.length > 0 && 'at least '}
              {money(report.price)}
            </td>
          </tr>
        </tfoot>
      </table>
      {report.made_first.map((each) => (
        <Notice
          key={`${each.formula} ${each.version}`}
          tone="look"
          text={`Make first: ${figure(each.needs_g)} g of ${each.name}, version ${each.version}.`}
        />
      ))}
    </>
  );
}
