import { Button, PasswordInput } from '@mantine/core';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, client } from '../../api/client';
import { keys } from '../../api/queries';
import { Card } from '../../parts/Card';
import { Notice } from '../../parts/Notice';
import classes from './PinCard.module.css';

/** One's own PIN for shared tablets. */
export function PinCard() {
  const [password, setPassword] = useState('');
  const [pin, setPin] = useState('');
  const queryClient = useQueryClient();
  const set = useMutation({
    mutationFn: () => answer(client.PUT('/api/v1/session/pin', { body: { password, pin } })),
    onSuccess: () => {
      setPassword('');
      setPin('');
      void queryClient.invalidateQueries({ queryKey: keys.people });
      void queryClient.invalidateQueries({ queryKey: keys.everybody });
    },
  });
  const other =
    set.error && !set.error.textFor('password') && !set.error.textFor('pin') ? set.error.message : undefined;
  return (
    <Card title="Your PIN for a shared tablet" aside="four to eight digits" className={classes.card}>
      <form
        className={classes.form}
        onSubmit={(event) => {
          event.preventDefault();
          set.mutate();
        }}
      >
        <PasswordInput
          label="Your password"
          autoComplete="current-password"
          value={password}
          error={set.error?.textFor('password')}
          onChange={(event) => setPassword(event.currentTarget.value)}
        />
        <PasswordInput
          label="New PIN"
          inputMode="numeric"
          autoComplete="off"
          value={pin}
          error={set.error?.textFor('pin')}
          onChange={(event) => setPin(event.currentTarget.value)}
        />
        <Button type="submit" size="md" loading={set.isPending} disabled={password === '' || pin === ''}>
          Set the PIN
        </Button>
      </form>
      {other && <Notice tone="stop" text={other} />}
      {set.isSuccess && (
        <Notice
          tone="fine"
          text="Your PIN is set. It passes a tablet on to you where somebody is signed in; formulas and the kitchen still want your password."
        />
      )}
    </Card>
  );
}
