import { Button, PasswordInput, TextInput } from '@mantine/core';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, client } from '../api/client';
import { keys } from '../api/queries';
import type { SessionOut } from '../api/types';
import { Notice } from '../parts/Notice';
import classes from './SignInScreen.module.css';

export interface SignInProps {
  demoSignIns: SessionOut['demo_sign_ins'];
}

/** Name and password; in demo mode the invented people are one press away. */
export function SignInForm({ demoSignIns }: SignInProps) {
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
