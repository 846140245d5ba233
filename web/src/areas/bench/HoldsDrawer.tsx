import { Button } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { answer, client } from '../../api/client';
import type { HoldPlan, MethodDocument } from '../../api/types';
import { figure, fromTo, span } from '../../lib/format';
import { CourseChart } from '../../parts/CourseChart';
import { Notice } from '../../parts/Notice';
import { SideDrawer } from '../../parts/SideDrawer';
import classes from './HoldsDrawer.module.css';

interface HoldsDrawerProps {
  /** The hold that is looked at; nothing where the drawer is closed. */
  stage: string | null;
  document: MethodDocument;
  readOnly: boolean;
  onTake: (where: HoldPlan['where']) => void;
  onClose: () => void;
}

/** One hold on the hob, in a flask, wrapped or as it stands: drawn, and what comes of each. */
export function HoldsDrawer({ stage, document, readOnly, onTake, onClose }: HoldsDrawerProps) {
  const found = useQuery({
    queryKey: ['holds', stage, document],
    queryFn: ({ signal }) => answer(client.POST('/api/v1/holds', { body: { document, stage: stage! }, signal })),
    enabled: stage !== null,
    retry: false,
    gcTime: 0,
  });
  const plans = found.data;
  return (
    <SideDrawer
      opened={stage !== null}
      title="Where to keep it"
      closeLabel="Close where to keep it"
      width={680}
      onClose={onClose}
    >
      {found.error && <Notice tone="stop" text={found.error.message} />}
      {plans && (
        <>
          <p className={classes.words}>
            {plans.title}, {span(60 * plans.for_min, 60 * plans.for_min)}. The pale stretches are what a lid, a draught
            and the size of the pot leave open.
          </p>
          <CourseChart
            courses={plans.plans.map((plan) => ({
              id: plan.where,
              title: SHORT[plan.where],
              points: plan.course,
              chosen: plan.chosen,
            }))}
            window={
              plans.window_low_c != null && plans.window_high_c != null
                ? {
                    low: plans.window_low_c,
                    high: plans.window_high_c,
                    words: `its enzyme works at ${fromTo(plans.window_low_c, plans.window_high_c)} °C`,
                  }
                : undefined
            }
          />
          <ul className={classes.plans}>
            {plans.plans.map((plan) => (
              <li key={plan.where} data-chosen={plan.chosen || undefined}>
                <div>
                  <strong>{plan.title}</strong>: ends at{' '}
                  {plan.ends_c.high - plan.ends_c.low < 1
                    ? figure(plan.ends_c.likely)
                    : fromTo(plan.ends_c.low, plan.ends_c.high)}{' '}
                  °C
                  {plan.in_window_min !== null &&
                    plan.in_window_min !== undefined &&
                    `, ${figure(plan.in_window_min)} min in the window`}
                  {plan.enzyme?.thinned &&
                    `, ${fromTo(100 * plan.enzyme.thinned.low, 100 * plan.enzyme.thinned.high)} % of the starch cut`}
                  . {plan.enzyme?.words} {plan.drawn}
                </div>
                {!readOnly && (
                  <Button
                    variant="default"
                    size="xs"
                    disabled={plan.chosen}
                    aria-label={`${plan.chosen ? 'Chosen' : 'Use this'}: ${plan.title}`}
                    onClick={() => onTake(plan.where)}
                  >
                    {plan.chosen ? 'Chosen' : 'Use this'}
                  </Button>
                )}
              </li>
            ))}
          </ul>
        </>
      )}
    </SideDrawer>
  );
}

const SHORT: Record<HoldPlan['where'], string> = {
  hob: 'on the hob',
  flask: 'vacuum flask',
  wrapped: 'wrapped pot',
  air: 'as it stands',
  fridge: 'fridge',
};
