import { Button, Modal } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { peopleQuery } from '../../api/queries';
import { usePerson } from '../../app/person';
import { TakeOver } from '../../app/TakeOver';
import { useOnline } from '../../lib/useOnline';
import { Notice } from '../../parts/Notice';
import dialog from './EntryDialog.module.css';
import classes from './hob.module.css';

/** Passes the tablet on to another cook: a name, a PIN. */
export function SwitchDialog({ opened, onClose }: { opened: boolean; onClose: () => void }) {
  return (
    <Modal
      opened={opened}
      onClose={onClose}
      title="Who is cooking"
      centered
      size={460}
      classNames={{ title: dialog.title }}
      closeButtonProps={{ 'aria-label': 'Close, nobody changes', size: 44 }}
    >
      {opened && <Switch onClose={onClose} />}
    </Modal>
  );
}

function Switch({ onClose }: { onClose: () => void }) {
  const me = usePerson();
  const online = useOnline();
  const people = useQuery(peopleQuery);
  // A PIN is only checked by the server: without it the tablet stays with who has it, and says so at once.
  if (!online || people.fetchStatus === 'paused')
    return (
      <div className={classes.stack}>
        <Notice
          tone="stop"
          text={`No connection: no PIN can be checked, so entries go on under ${me.name}. Write in a note who cooks until it is back.`}
        />
        <Button variant="default" h={56} onClick={onClose}>
          Go on as {me.name}
        </Button>
      </div>
    );
  if (people.isError) return <Notice tone="stop" text={people.error.message} />;
  const others = (people.data ?? []).filter((person) => person.username !== me.username);
  return (
    <TakeOver people={others} onDone={onClose}>
      <p className={classes.quiet}>{me.name} is. Entries carry the name of who makes them.</p>
      {people.data && others.length === 0 && <p className={classes.quiet}>Nobody else cooks here yet.</p>}
    </TakeOver>
  );
}
