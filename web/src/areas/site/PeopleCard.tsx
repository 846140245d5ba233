import { Button, Table } from '@mantine/core';
import { useInfiniteQuery, useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, client } from '../../api/client';
import { everybodyQuery, keys } from '../../api/queries';
import { usePerson } from '../../app/person';
import { clock } from '../../lib/format';
import { Card } from '../../parts/Card';
import { Notice } from '../../parts/Notice';
import { ShowMore } from '../../parts/ShowMore';
import classes from './PinCard.module.css';

const ROLES = { lead: 'lead', prep: 'prep cook', view: 'view only', bar: 'bar' };

/** Who signs in here, and how their PINs stand: a lead takes one away, or lets a locked one be tried again. */
export function PeopleCard() {
  const queryClient = useQueryClient();
  const people = useInfiniteQuery(everybodyQuery);
  const changed = () => void queryClient.invalidateQueries({ queryKey: keys.everybody });
  const path = (username: string) => ({ params: { path: { username } } });
  const clear = useMutation({
    mutationFn: (username: string) => answer(client.DELETE('/api/v1/people/{username}/pin', path(username))),
    onSettled: changed,
  });
  const unlock = useMutation({
    mutationFn: (username: string) => answer(client.POST('/api/v1/people/{username}/unlock-pin', path(username))),
    onSettled: changed,
  });
  const may = useMutation({
    mutationFn: ({ username, active }: { username: string; active: boolean }) =>
      answer(
        active
          ? client.POST('/api/v1/people/{username}/reactivate', path(username))
          : client.POST('/api/v1/people/{username}/deactivate', path(username)),
      ),
    onSettled: () => {
      changed();
      void queryClient.invalidateQueries({ queryKey: keys.signedIn });
      void queryClient.invalidateQueries({ queryKey: keys.people });
    },
  });
  const [leaving, setLeaving] = useState<string | null>(null);
  const { username: me } = usePerson();
  const problem = people.error ?? clear.error ?? unlock.error ?? may.error;
  return (
    <Card
      title="People and their PINs"
      aside="a PIN only hands over a shared tablet; deactivating somebody signs them out and keeps what they entered"
      className={classes.card}
    >
      {problem && <Notice tone="stop" text={problem.message} />}
      <Table.ScrollContainer minWidth={480}>
        <Table aria-label="People and their PINs" verticalSpacing="xs" fz="md">
          <Table.Thead>
            <Table.Tr>
              <Table.Th>Who</Table.Th>
              <Table.Th>Signs in as</Table.Th>
              <Table.Th>Role</Table.Th>
              <Table.Th>PIN</Table.Th>
              <Table.Th aria-label="What can be done" />
            </Table.Tr>
          </Table.Thead>
          <Table.Tbody>
            {(people.data?.pages.flatMap((page) => page.items) ?? []).map((person) => (
              <Table.Tr key={person.username}>
                <Table.Td>{person.name}</Table.Td>
                <Table.Td>{person.username}</Table.Td>
                <Table.Td>{person.is_active ? ROLES[person.role] : 'deactivated'}</Table.Td>
                <Table.Td>
                  {person.pin_locked_until
                    ? `locked until ${clock(person.pin_locked_until)}: too many wrong tries`
                    : person.has_pin
                      ? 'set'
                      : 'none'}
                </Table.Td>
                <Table.Td>
                  {person.pin_locked_until && (
                    <Button
                      size="sm"
                      mr="xs"
                      variant="default"
                      loading={unlock.isPending}
                      onClick={() => unlock.mutate(person.username)}
                      aria-label={`Unlock: PIN of ${person.name}`}
                    >
                      Unlock
                    </Button>
                  )}
                  {person.has_pin && (
                    <Button
                      size="sm"
                      mr="xs"
                      variant="default"
                      loading={clear.isPending}
                      onClick={() => clear.mutate(person.username)}
                      aria-label={`Remove PIN of ${person.name}`}
                    >
                      Remove PIN
                    </Button>
                  )}
                  {!person.is_active && (
                    <Button
                      size="sm"
                      variant="default"
                      loading={may.isPending}
                      onClick={() => may.mutate({ username: person.username, active: true })}
                      aria-label={`Reactivate: ${person.name}`}
                    >
                      Reactivate
                    </Button>
                  )}
                  {person.is_active && person.username !== me && (
                    <Button
                      size="sm"
                      variant="default"
                      color="red"
                      loading={may.isPending}
                      onClick={() =>
                        leaving === person.username
                          ? may.mutate({ username: person.username, active: false })
                          : setLeaving(person.username)
                      }
                      onBlur={() => setLeaving(null)}
                      aria-label={
                        leaving === person.username ? `Yes, deactivate: ${person.name}` : `Deactivate: ${person.name}`
                      }
                    >
                      {leaving === person.username ? 'Yes, deactivate' : 'Deactivate'}
                    </Button>
                  )}
                </Table.Td>
              </Table.Tr>
            ))}
          </Table.Tbody>
        </Table>
      </Table.ScrollContainer>
      <ShowMore of={people} />
    </Card>
  );
}
