import { Button, Modal, PasswordInput, TextInput } from '@mantine/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, client } from '../api/client';
import { keys, peopleQuery } from '../api/queries';
import type { SessionOut } from '../api/types';
import { Jug } from '../parts/Jug';
import { Notice } from '../parts/Notice';
import classes from './SignInScreen.module.css';
import { TakeOver } from './TakeOver';

const MARK = [
  { band: 'sugars', title: 'sugars', share: 0.55 },
  { band: 'water', title: 'water', share: 0.45 },
];

/** Sign in; in demo mode the invented people are one press away. */
export function SignInScreen({ demoSignIns }: SignInProps) {
  return (
    <main className={classes.page}>
      <div className={classes.card}>
        <div className={classes.head}>
          <div aria-hidden="true" className={classes.jug}>
            <Jug bands={MARK} volume_ml={1000} mass_g={1250} size="small" />
          </div>
          <h1>Oaken Jug</h1>
        </div>
        <SignInForm demoSignIns={demoSignIns} />
      </div>
    </main>
  );
}

/** The session ended under somebody's hands: signing in goes on where they were. */
export function SignInAgain({ demoSignIns, name }: SignInProps & { name: string }) {
  return (
    <Modal
      opened
      onClose={() => undefined}
      withCloseButton={false}
      closeOnEscape={false}
      closeOnClickOutside={false}
      title="Sign in to go on"
      centered
    >
      <p className={classes.ended}>The session of {name} has ended. What you typed is still here.</p>
      <SignInForm demoSignIns={demoSignIns} />
    </Modal>
  );
}

/** Nobody was at the tablet for a while: a PIN goes on where it was left. What stands on the screen stays to be read behind it. */
export function Rested({ demoSignIns, name }: SignInProps & { name: string }) {
  const people = useQuery(peopleQuery);
  const [bySignIn, setBySignIn] = useState(false);
  const [reading, setReading] = useState(false);
  if (reading)
    return (
      <div className={classes.rested} role="status">
        <span>Nobody was here for a while. Nothing can be entered until somebody types a PIN.</span>
        <Button h={52} onClick={() => setReading(false)}>
          I am here
        </Button>
      </div>
    );
  return (
    <Modal
      opened
      onClose={() => setReading(true)}
      title="Who is here?"
      centered
      size={480}
      closeButtonProps={{ 'aria-label': 'Only read', size: 44 }}
    >
      {bySignIn ? (
        <SignInForm demoSignIns={demoSignIns} />
      ) : (
        <TakeOver people={people.data ?? []} onDone={() => undefined}>
          <p className={classes.ended}>
            Nobody was at this tablet for a while; {name} was last. What was typed is still here.
          </p>
        </TakeOver>
      )}
      <Button mt="md" variant="subtle" onClick={() => setBySignIn(!bySignIn)}>
        {bySignIn ? 'By PIN' : 'By name and password'}
      </Button>
    </Modal>
  );
}

interface SignInProps {
  demoSignIns: SessionOut['demo_sign_ins'];
}

function SignInForm({ demoSignIns }: SignInProps) {
  const [username, setUsername] = useState('');
  const [password, setPassword] = useState('');
  const queryClient = useQueryClient();
  const signIn = useMutation({
    mutationFn: (who: { username: string; password: string }) => answer(client.POST('/api/v1/session', { body: who })),
    onSuccess: (session) => queryClient.setQueryData(keys.session, session),
  });
  const nameError = signIn.error?.textFor('username');
  const passwordError = signIn.error?.textFor('password');
  const other = signIn.error && !nameError && !passwordError ? signIn.error.message : undefined;
  return (
    <>
      <form
        className={classes.form}
        onSubmit={(event) => {
          event.preventDefault();
          signIn.mutate({ username, password });
        }}
      >
        <TextInput
          label="Name you sign in with"
          size="md"
          autoComplete="username"
          value={username}
          error={nameError}
          required
          withAsterisk={false}
          onChange={(e) => setUsername(e.currentTarget.value)}
        />
        <PasswordInput
          label="Password"
          size="md"
          autoComplete="current-password"
          value={password}
          error={passwordError}
          required
          withAsterisk={false}
          onChange={(e) => setPassword(e.currentTarget.value)}
        />
        {other && <Notice tone="stop" text={other} />}
        <Button type="submit" size="md" loading={signIn.isPending}>
          Sign in
        </Button>
      </form>
      {demoSignIns.length > 0 && (
        <section className={classes.demo} aria-label="Demo sign-ins">
          <h2>Demo</h2>
          <p>
            Invented people, invented data. The password of each is <code>{demoSignIns[0]!.password}</code>.
          </p>
          <div className={classes.people}>
            {demoSignIns.map((who) => (
              <Button
                key={who.username}
                variant="default"
                size="md"
                onClick={() => signIn.mutate({ username: who.username, password: who.password })}
              >
                {who.name}, {who.role}
              </Button>
            ))}
          </div>
        </section>
      )}
    </>
  );
}
