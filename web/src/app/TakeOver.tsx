import { Button } from '@mantine/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type ReactNode, useState } from 'react';
import { answer, passOn } from '../api/client';
import { keys, sessionQuery } from '../api/queries';
import type { PersonAtTablet } from '../api/types';
import { Keypad } from '../parts/Keypad';
import { Notice } from '../parts/Notice';
import classes from './TakeOver.module.css';

interface TakeOverProps {
  people: PersonAtTablet[];
  /** What stands above the names. */
  children?: ReactNode;
  onDone: () => void;
}

/** Somebody takes the tablet over: a name, a PIN. */
export function TakeOver({ people, children, onDone }: TakeOverProps) {
  const queryClient = useQueryClient();
  const demo = useQuery(sessionQuery).data?.demo_sign_ins ?? [];
  const [who, setWho] = useState<PersonAtTablet | null>(null);
  const [pin, setPin] = useState('');
  const pass = useMutation({
    mutationFn: () =>
      passOn((by) => answer(by.POST('/api/v1/session/switch', { body: { username: who!.username, pin } }))),
    onSuccess: (session) => {
      queryClient.setQueryData(keys.session, session);
      onDone();
    },
    onError: () => setPin(''),
  });
  if (!who)
    return (
      <div className={classes.stack}>
        {children}
        {people.map((person) => (
          <Button
            key={person.username}
            h={64}
            fz={19}
            variant="default"
            disabled={!person.has_pin}
            onClick={() => setWho(person)}
          >
            {person.name}
            {!person.has_pin && ', no PIN yet'}
          </Button>
        ))}
        <p className={classes.quiet}>A PIN is set under Site, by each for oneself.</p>
      </div>
    );
  const hint = demo.find((each) => each.username === who.username)?.pin;
  return (
    <div className={classes.stack}>
      <p className={classes.quiet}>
        {who.name}, type your PIN.{hint && ` In the demo it is ${hint}.`}
      </p>
      <Keypad
        label={`PIN of ${who.name}`}
        unit=""
        secret
        value={pin}
        onChange={setPin}
        onEnter={() => pin.length >= 4 && pass.mutate()}
      />
      {pass.isPaused && <Notice tone="stop" text="No connection: no PIN can be checked." />}
      {pass.isError && <Notice tone="stop" text={pass.error.message} />}
      <div className={classes.buttons}>
        <Button variant="default" h={52} onClick={() => setWho(null)}>
          Somebody else
        </Button>
        <Button h={52} disabled={pin.length < 4} loading={pass.isPending} onClick={() => pass.mutate()}>
          {who.name} goes on
        </Button>
      </div>
    </div>
  );
}
