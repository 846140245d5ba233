import { Button, Modal } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { peopleQuery } from '../api/queries';
import { SignInForm, type SignInProps } from './SignInForm';
import classes from './SignInScreen.module.css';
import { TakeOver } from './TakeOver';

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
        <span>Locked after a pause. Type a PIN before anything is entered.</span>
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
