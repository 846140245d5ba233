import { Button, TextInput } from '@mantine/core';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, client } from '../../api/client';
import { keys } from '../../api/queries';
import type { PlanSettings } from '../../api/types';
import { useMay } from '../../app/person';
import { numberIn, wrongIn } from '../../lib/figures';
import { figure } from '../../lib/format';
import { Card } from '../../parts/Card';
import { Notice } from '../../parts/Notice';
import classes from './plan.module.css';

const WEEKDAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];
const MINUTES = { low: 0, high: 10_000, whole: true };
const LOST = { above: 0, high: 100 };

/** How much room a day has: hands, burners; and what running short costs. */
export function RoomCard({ settings }: { settings: PlanSettings }) {
  const mayPlan = useMay('plan');
  const queryClient = useQueryClient();
  const asText = {
    hands: settings.hands_min.map((minutes) => String(minutes)),
    burner: String(settings.burner_min),
    lost: figure(100 * settings.lost, 0),
  };
  const [typed, setTyped] = useState<typeof asText | null>(null);
  const now = typed ?? asText;
  const hands = now.hands.map((text) => numberIn(text, 'min', MINUTES));
  const burner = numberIn(now.burner, 'min', MINUTES);
  const lost = numberIn(now.lost, '%', LOST);
  const good = hands.every((minutes) => minutes !== null) && burner !== null && lost !== null;
  const save = useMutation({
    mutationFn: () =>
      answer(
        client.PUT('/api/v1/plan/settings', {
          body: {
            ...settings,
            hands_min: hands.map((minutes) => minutes ?? 0),
            burner_min: burner ?? 0,
            lost: (lost ?? 0) / 100,
          },
        }),
      ),
    onSuccess: async () => {
      await queryClient.invalidateQueries({ queryKey: [...keys.plan, 'week'] });
      setTyped(null);
    },
  });
  if (!mayPlan) return null;
  if (!typed)
    return (
      <Card title="Room in a day">
        <p>
          Hands {WEEKDAYS.map((day, n) => `${day} ${settings.hands_min[n]}`).join(', ')} min; each burner{' '}
          {settings.burner_min} min.
        </p>
        <Button size="sm" variant="default" onClick={() => setTyped(asText)}>
          Change
        </Button>
      </Card>
    );
  return (
    <Card title="Room in a day" aside="hands-on minutes of all people together">
      <div className={classes.fields}>
        {WEEKDAYS.map((day, n) => (
          <TextInput
            key={day}
            label={day}
            size="sm"
            inputMode="numeric"
            className={classes.narrow ?? ''}
            value={now.hands[n]}
            error={wrongIn(now.hands[n] ?? '', 'min', MINUTES)}
            onChange={(event) => {
              const text = event.currentTarget.value;
              setTyped({ ...now, hands: now.hands.map((each, at) => (at === n ? text : each)) });
            }}
          />
        ))}
        <TextInput
          label="Minutes a burner is free"
          size="sm"
          inputMode="numeric"
          value={now.burner}
          error={wrongIn(now.burner, 'min', MINUTES)}
          onChange={(event) => setTyped({ ...now, burner: event.currentTarget.value })}
        />
        <TextInput
          label="Guests who then buy nothing [%]"
          description="When their drink is out"
          size="sm"
          inputMode="decimal"
          value={now.lost}
          error={wrongIn(now.lost, '%', LOST)}
          onChange={(event) => setTyped({ ...now, lost: event.currentTarget.value })}
        />
        <Button size="sm" disabled={!good} loading={save.isPending} onClick={() => save.mutate()}>
          Save
        </Button>
        <Button size="sm" variant="default" onClick={() => setTyped(null)}>
          Cancel
        </Button>
      </div>
      {save.error && <Notice tone="stop" text={save.error.message} />}
    </Card>
  );
}
