import { useQuery } from '@tanstack/react-query';
import { type ReactNode, useState } from 'react';
import { openLotsQuery } from '../../api/queries';
import { dayOf } from '../../lib/format';
import classes from './Lot.module.css';

/** Which lot a line comes out of: the one that stands open is chosen, another is one tap away; nothing where the pantry knows none. */
export function useLot(batch: string, line: string | undefined): { chosen: string | null; pick: ReactNode } {
  const lots = useQuery(openLotsQuery(batch)).data?.[line ?? ''] ?? [];
  const [picked, setPicked] = useState<Record<string, string | null>>({});
  if (line === undefined || lots.length === 0) return { chosen: null, pick: null };
  const likely = lots.find((lot) => lot.chosen)?.code ?? null;
  const chosen = line in picked ? picked[line]! : likely;
  return {
    chosen,
    pick: (
      <div className={classes.lots} role="group" aria-label="Lot">
        <span>Lot</span>
        {lots.map((lot) => (
          <button
            key={lot.code}
            type="button"
            className={classes.lot}
            aria-pressed={lot.code === chosen}
            onClick={() => setPicked({ ...picked, [line]: lot.code === chosen ? null : lot.code })}
          >
            {lot.code}
            {lot.best_before && lot.best_before < dayOf(new Date()) && (
              <span className={classes.small}>past its date</span>
            )}
          </button>
        ))}
        {chosen === null && <span className={classes.small}>tap the one you take</span>}
      </div>
    ),
  };
}
