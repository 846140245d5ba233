import { Button, Modal } from '@mantine/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, client, passOn } from '../../api/client';
import { keys, sessionQuery } from '../../api/queries';
import { usePerson } from '../../app/person';
import { useOnline } from '../../lib/useOnline';
import { Keypad } from '../../parts/Keypad';
import { Notice } from '../../parts/Notice';
import dialog from './EntryDialog.module.css';
import classes from './hob.module.css';

/** Passes the tablet on to another cook: a name, a PIN. */
export function SwitchDialog({ opened, onClose }: { opened: boolean; onClose: () => void }) {
  return (
    <Modal opened={opened} onClose={onClose} title="Who is cooking" centered size={460} classNames={{ title: dialog.title }} closeButtonProps={{ 'aria-label': 'Close, nobody changes', size: 44 }}>
      {opened && <Switch onClose={onClose} />}
    </Modal>
  );
}

function Switch({ onClose }: { onClose: () => void }) {
  const me = usePerson();
  const online = useOnline();
  const queryClient = useQueryClient();
  const people = useQuery({ queryKey: keys.people, queryFn: () => answer(client.GET('/api/session/people')) });
  const demo = useQuery(sessionQuery).data?.demo_sign_ins ?? [];
  const [who, setWho] = useState<{ username: string; name: string } | null>(null);
  const [pin, setPin] = useState('');
  const pass = useMutation({
    mutationFn: () => passOn((by) => answer(by.POST('/api/session/switch', { body: { username: who!.username, pin } }))),
    onSuccess: (session) => {
      queryClient.setQueryData(keys.session, session);
      onClose();
    },
    onError: () => setPin(''),
  });
  // A PIN is only checked by the server: without it the tablet stays with who has it, and says so at once.
  if (!online || people.fetchStatus === 'paused' || pass.isPaused)
    return (
      <div className={classes.stack}>
        <Notice tone="stop" text={`No connection: no PIN can be checked, so entries go on under ${me.name}. Write in a note who cooks until it is back.`} />
        <Button variant="default" h={56} onClick={onClose}>
          Go on as {me.name}
        </Button>
      </div>
    );
  if (people.isError) return <Notice tone="stop" text={people.error.message} />;
  const others = (people.data ?? []).filter((person) => person.username !== me.username);
  if (!who)
    return (
      <div className={classes.stack}>
        <p className={classes.quiet}>{me.name} is. Entries carry the name of who makes them.</p>
        {others.map((person) => (
          <Button key={person.username} h={64} fz={19} variant="default" disabled={!person.has_pin} onClick={() => setWho(person)}>
            {person.name}
            {!person.has_pin && ', no PIN yet'}
          </Button>
        ))}
        {people.data && others.length === 0 && <p className={classes.quiet}>Nobody else cooks here yet.</p>}
        <p className={classes.quiet}>A PIN is set under Site, by each for oneself.</p>
      </div>
    );
  const hint = demo.find((each) => each.username === who.username)?.pin;
  return (
    <div className={classes.stack}>
      <p className={classes.quiet}>
        {who.name}, type your PIN.{hint && ` In the demo it is ${hint}.`}
      </p>
      <Keypad label={`PIN of ${who.name}`} unit="" secret value={pin} onChange={setPin} onEnter={() => pin.length >= 4 && pass.mutate()} />
      {pass.isError && <Notice tone="stop" text={pass.error.message} />}
      <div className={classes.buttons}>
        <Button variant="default" onClick={() => setWho(null)}>
          Somebody else
        </Button>
        <Button disabled={pin.length < 4} loading={pass.isPending} onClick={() => pass.mutate()}>
          {who.name} goes on
        </Button>
      </div>
    </div>
  );
}
